// node scripts/letters.mjs: writes the outlines that the text step draws, from two faces under the SIL Open Font License.
import { mkdirSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { ROOT, run } from './setup/run.mjs';

const TOOLS = join(ROOT, '.cache/letters');
mkdirSync(TOOLS, { recursive: true });
writeFileSync(join(TOOLS, 'package.json'), '{ "private": true }');
await run('npm', [
  ...['install', '--no-audit', '--no-fund', '--prefix', TOOLS, 'fontkit@2.0.4'],
  ...['@fontsource/commissioner@5.3.0', '@fontsource/spline-sans-mono@5.3.0'],
]);
const require = createRequire(join(TOOLS, 'package.json'));
const { openSync } = require('fontkit');

/** Latin as western Europe writes it, with the signs of print. */
const range = (from, to) => Array.from({ length: to - from + 1 }, (_, i) => String.fromCodePoint(from + i));
const CHARACTERS = [...range(0x20, 0x7e), ...range(0xa0, 0xff), ...'ŒœŸ–—‘’‚“”„†•…‹›€™−×'];
const ASCII = range(0x21, 0x7e);
/** Units a letter’s height is told in. */
const EM = 1000;

const face = (family, weight) => {
  const font = openSync(require.resolve(`@fontsource/${family}/files/${family}-latin-${weight}-normal.woff`));
  const whole = (x) => Math.round((x * EM) / font.unitsPerEm);
  const lines = [...new Set(CHARACTERS)]
    .filter((each) => font.hasGlyphForCodePoint(each.codePointAt(0)))
    .map((each) => {
      const [glyph] = font.layout(each).glyphs;
      const path = glyph.path.commands
        .map(
          ({ command, args }) =>
            `${{ moveTo: 'M', lineTo: 'L', quadraticCurveTo: 'Q', bezierCurveTo: 'C', closePath: '' }[command]}${args.map(whole).join(' ')}`,
        )
        .join('');
      return `${each}\t${whole(glyph.advanceWidth)}\t${path}`;
    });
  const kerning = ASCII.flatMap((a) =>
    ASCII.flatMap((b) => {
      const { positions, glyphs } = font.layout(a + b);
      if (glyphs.length !== 2) return [];
      const by = whole(positions[0].xAdvance - glyphs[0].advanceWidth);
      return by ? [`${a}${b}${by}`] : [];
    }),
  );
  return {
    height: whole(font.capHeight),
    glyphs: lines.join('\n'),
    kerning: kerning.join('\n'),
  };
};

const FACES = { sans: ['commissioner', 400], bold: ['commissioner', 800], mono: ['spline-sans-mono', 500] };
const made = Object.fromEntries(
  Object.entries(FACES).map(([name, [family, weight]]) => [name, face(family, weight)]),
);
writeFileSync(join(ROOT, 'src/core/letters/faces.json'), `${JSON.stringify(made, null, 2)}\n`);
