import { expect, test, type Page } from '@playwright/test';
import { compileShader, handOver, programOf } from '#core/compileShader.ts';
import { emitWgsl } from '#core/emit/wgsl/emitWgsl.ts';
import { importGlsl } from '#core/import/importGlsl.ts';
import { analyseModule } from '#core/language/glsl/analyseModule.ts';
import { foreignFragments, foreignFunctions } from './corpus.ts';
import { compareDrawn, type Drawn } from './drawSources.ts';
import { createChance } from './probe.ts';
import { securePage } from './securePage.ts';
import { tryCode } from './tryCode.ts';

let page: Page;
test.beforeAll(async ({ browser }) => {
  page = await securePage(browser);
});
test.afterAll(() => page.close());

/** Runs in the page: what the browser's compiler says of modules. */
const compileAll = async (codes: readonly string[]): Promise<string[]> => {
  const device = await (await navigator.gpu.requestAdapter())!.requestDevice();
  return Promise.all(
    codes.map(async (code) => {
      const { messages } = await device.createShaderModule({ code }).getCompilationInfo();
      return messages
        .filter((each) => each.type === 'error')
        .map((each) => `${each.lineNum}: ${each.message}`)
        .join('; ');
    }),
  );
};

test('fragments that nobody here wrote become WGSL that the browser compiles', async () => {
  const modules: { name: string; code: string }[] = [];
  for (const { name, text } of await foreignFragments()) {
    const { document } = importGlsl(text);
    if (!document) continue;
    const { program } = programOf(document);
    const { code, refused } = emitWgsl(program!, { title: name });
    expect(code, `${name}: ${refused ?? ''}`).not.toBeNull();
    expect(compileShader(document).diagnostics).toEqual([]);
    modules.push({ name, code: code! });
  }
  expect(modules.length).toBeGreaterThan(50);
  const said = await page.evaluate(
    compileAll,
    modules.map((each) => each.code),
  );
  said.forEach((each, i) => expect(each, `${modules[i]!.name}\n${modules[i]!.code}`).toBe(''));
});

/** Arguments by type, of numbers that leave nothing open. */
const ARGUMENTS: Readonly<Record<string, readonly string[]>> = {
  float: ['inside(x)', 'inside(y)', 'inside(v.x)', 'inside(v.y)'],
  vec2: ['inside(v).xy', 'inside(v).yz'],
  vec3: ['inside(v)', 'inside(v.zxy + x)', 'inside(v.yzx + y)'],
  vec4: ['vec4(inside(v), inside(x))', 'vec4(inside(y), inside(v))'],
  int: ['n'],
  bool: ['(x > 0.0)'],
};

/** These take a power of a base below 0, which docs/meaning.md decides, or wrap where a rounding decides the cell. */
const OPEN = /(cubic|quartic|quintic)-in-out|(quartic|quintic)-out|noise\/periodic/;

test('functions that nobody here wrote mean what they mean as written, in every back end', async () => {
  let tried = 0;
  const wrong: string[] = [];
  for (const { name, text } of foreignFunctions()) {
    const { code } = analyseModule(text);
    const { source } = code!.main;
    const used = new Map<string, number>();
    const args = source.parameters.map(({ type }) => {
      const at = used.get(type.name) ?? 0;
      used.set(type.name, at + 1);
      return ARGUMENTS[type.name]?.[at];
    });
    if (args.includes(undefined)) continue;
    const call = `${source.name}(${args.join(', ')})`;
    const inside = ['float', 'vec3'].map(
      (type) => `${type} inside(${type} p) { return fract(p) * 0.5 + 0.25; }`,
    );
    const wrapped = `${text}\n${inside.join('\n')}\n${source.returns.name} shaped(float x, float y, vec3 v, int n) { return ${call}; }`;
    if (OPEN.test(name)) continue;
    const said = await tryCode(page, wrapped, 1e-3);
    if (said) wrong.push(`${name}: ${said}`);
    tried += 1;
  }
  expect(wrong).toEqual([]);
  expect(tried).toBeGreaterThan(50);
});

const SIZES: Readonly<Record<string, number>> = { float: 1, vec2: 2, vec3: 3, vec4: 4 };
/** Something of the square of uv for whatever is handed over: rounded nowhere, so that both read the same bits. */
const HANDED: Readonly<Record<string, readonly string[]>> = {
  float: ['uv.x', 'uv.y'],
  vec2: ['uv', 'uv.yx'],
  vec3: ['vec3(uv, 0.5)', 'vec3(0.5, uv.yx)', 'vec3(uv.y, 0.25, uv.x)'],
  vec4: ['vec4(uv, uv.yx)', 'vec4(uv.yx, 0.5, 1.0)', 'vec4(uv.xx, uv.yy)'],
};
/** A scene without lights. */
const NONE = `SUN_LIGHTS DIR_LIGHTS POINT_LIGHTS SPOT_LIGHTS RECT_AREA_LIGHTS HEMI_LIGHTS LIGHT_PROBE_GRIDS
  SUN_LIGHT_SHADOWS DIR_LIGHT_SHADOWS POINT_LIGHT_SHADOWS SPOT_LIGHT_SHADOWS SPOT_LIGHT_COORDS SPOT_LIGHT_MAPS
  SPOT_LIGHT_SHADOWS_WITH_MAPS CLIPPING_PLANES`.replace(/\s*(\w+)/g, '#define NUM_$1 0\n');
/** What a renderer writes before fragments of GLSL ES 1.00 to draw them as 3.00. */
const AS_RENDERED = `#version 300 es
#define varying in
#define texture2D texture
#define texture2DProj textureProj
#define texture2DLodEXT textureLod
#define gl_FragColor pc_fragColor
precision highp float;
precision highp int;
layout(location = 0) out highp vec4 pc_fragColor;
uniform mat4 viewMatrix;
${NONE}`;
/** Takes acos of what is beyond 1, which docs/meaning.md decides. */
const OPEN_PICTURE = 'GTAOShader';
/** Names in these are kept by GLSL ES 3.00, so they are drawn as the 1.00 they are. */
const OLD = /FreiChen|TriangleBlur/;
const AS_WRITTEN = 'precision highp float;\nprecision highp int;\n';
/** A square of uv that hands over what a fragment asks for. */
const squareOf = (
  handed: readonly { readonly declared: string; readonly set: string }[],
  old = false,
): string =>
  `${old ? '' : '#version 300 es\n'}${old ? 'attribute' : 'in'} vec2 corner;
${handed.map(({ declared }) => `${old ? 'varying' : 'out'} ${declared};`).join('\n')}
void main() {
  vec2 uv = corner;
  ${handed.map(({ set }) => `${set};`).join('\n  ')}
  gl_Position = vec4(uv * 2.0 - 1.0, 0.0, 1.0);
}`;

/** What a uniform stands at: something of its own, and the same wherever it is called so. */
const numbersNamed = (name: string): number[] => {
  if (/resolution|pictureSize/.test(name)) return [512];
  const chance = createChance([...name].reduce((sum, letter) => sum * 31 + letter.charCodeAt(0), 7));
  return Array.from({ length: 4 }, () => 0.25 + chance());
};

/** A fragment as written and as it comes back, with everything set alike. */
const bothOf = (
  name: string,
  text: string,
): { readonly pair: readonly [Drawn, Drawn]; readonly size: 3 | 4 } | null => {
  const bare = text.replace(/\/\/[^\n]*|\/\*[\s\S]*?\*\//g, '');
  const chosen: Record<string, string> = {};
  const met = new Map<string, number>();
  const handed = [
    ...bare.matchAll(/^\s*(?:varying|in)\s+(?:\w+p\s+)?(\w+)\s+(\w+)\s*(?:\[\s*(\d+)\s*\])?\s*;/gm),
  ].map(([, type, name, count]) => {
    const i = met.get(type!) ?? 0;
    met.set(type!, i + 1);
    const ways = HANDED[type!]!;
    const each = (k: number) => ways[(i + k) % ways.length]!;
    if (!count) {
      chosen[name!] = each(0);
      return { declared: `${type!} ${name!}`, set: `${name!} = ${each(0)}` };
    }
    const all = Array.from({ length: Number(count) }, (_, k) => each(k));
    all.forEach((one, k) => (chosen[`${name!}${k}`] = one));
    return {
      declared: `${type!} ${name!}[${count}]`,
      set: all.map((one, k) => `${name!}[${k}] = ${one}`).join('; '),
    };
  });
  const { document } = importGlsl(text, chosen);
  if (!document) return null;
  const { source } = handOver(document, 'as it comes back');
  const uniforms = Object.fromEntries(
    [...source!.fragment.matchAll(/^uniform (?:\w+p )?(\w+) (\w+)/gm)].map(([, , name]) => [
      name!,
      numbersNamed(name!),
    ]),
  );
  const written: Record<string, readonly number[]> = { ...uniforms };
  for (const [, type, name] of bare.matchAll(/uniform\s+(?:\w+p\s+)?(\w+)\s+(\w+)/g)) {
    const made = document.renamed?.[name!] ?? name!;
    const parts = /\((.*)\)$/s.exec(made)?.[1]?.split(/\s*,\s*/) ?? [made];
    const size = SIZES[type!] ?? (type === 'mat3' ? 3 : 4);
    written[name!] = parts.flatMap((part) =>
      numbersNamed(part)
        .concat(numbersNamed(part))
        .slice(0, parts.length > 1 ? size : 4),
    );
  }
  const old = OLD.test(name);
  const before = old ? AS_WRITTEN : text.startsWith('#version') ? '' : AS_RENDERED;
  return {
    pair: [
      { vertex: squareOf(handed, old), fragment: before + text, uniforms: written },
      {
        vertex: squareOf([{ declared: 'vec2 v_uv', set: 'v_uv = uv' }]),
        fragment: source!.fragment,
        uniforms,
      },
    ],
    size: document.surface.alphaMode === 'cutout' ? 3 : 4,
  };
};

test('fragments that nobody here wrote draw what they draw as written', async () => {
  page.on('console', (m) => console.log(m.text()));
  const both = (await foreignFragments()).flatMap(({ name, text }) => {
    const made = name === OPEN_PICTURE ? null : bothOf(name, text);
    return made ? [{ name, ...made }] : [];
  });
  const apart = await page.evaluate(compareDrawn, { side: 64, tolerance: 2e-3, pairs: both });
  const wrong = apart.flatMap((each, i) =>
    typeof each === 'string' || each > 0.001 ? [`${both[i]!.name}: ${each}`] : [],
  );
  expect(wrong).toEqual([]);
  expect(both.length).toBeGreaterThan(55);
});
