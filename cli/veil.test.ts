import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, test } from 'node:test';
import sharp from 'sharp';
import { publishedFiles, publishedPictures } from '../scripts/writeDocs.ts';

const folder = mkdtempSync(join(tmpdir(), 'veil-'));
after(() => rmSync(folder, { recursive: true, force: true }));
const DEMO = 'demo/gallowglass';
const CURTAIN = `${DEMO}/curtain-burn-away.shader.json`;

const veil = (...args: readonly string[]) => {
  const { status, stdout, stderr } = spawnSync(process.execPath, ['cli/veil.mjs', ...args], {
    encoding: 'utf8',
  });
  return { status, out: stdout, err: stderr };
};
const file = (name: string, content: unknown): string => {
  const path = join(folder, name);
  writeFileSync(path, typeof content === 'string' ? content : JSON.stringify(content, null, 2));
  return path;
};
const curtain = () =>
  JSON.parse(readFileSync(CURTAIN, 'utf8')) as {
    strands: { steps: { arguments: Record<string, unknown> }[] }[];
  };

test('--help says what there is, and a wrong call what was expected', () => {
  const help = veil('--help');
  assert.equal(help.status, 0);
  for (const word of ['check', 'compile', 'evaluate', 'bake', 'operators', 'import', 'new']) {
    assert.match(help.out, new RegExp(`veil ${word}`));
    assert.match(veil(word, '--help').out, /Usage|veil /);
  }
  for (const [args, said] of [
    [[], /Every command takes --help/],
    [['chekc', 'x'], /There is no command “chekc”/],
    [['check'], /Which file/],
    [['evaluate', 'a', 'b'], /one word too many: b/],
    [['bake', CURTAIN, '--size', '8', '--size', '16'], /--size is given twice/],
    [['new', 'actor'], /A document is one of shader, material/],
    [
      ['bake', CURTAIN, '--strand', 'order', '--out', 'x.png', '--parameter', 'brun=1'],
      /no parameter “brun”; did you mean burn\?/,
    ],
    [['bake', CURTAIN, '--strand', 'order', '--strand', 'remains', '--out', 'x.png'], /need a folder/],
    [['check', '--bogus'], /bogus/],
    [['compile', CURTAIN], /--to is one of glsl, wgsl, contract, bindings/],
    [
      ['bake', CURTAIN, '--strand', 'order', '--out', 'x.png', '--size', '0'],
      /--size is a whole number from 1 to/,
    ],
    [['bake', CURTAIN, '--strand', 'order', '--out', 'x.png', '--bits', '12'], /--bits is 8 or 16/],
    [['evaluate', CURTAIN, '--strand', 'ordre', '--points', 'p.json'], /--strand should be one of order/],
  ] as const) {
    const { status, out, err } = veil(...args);
    assert.equal(status, 2, args.join(' '));
    assert.match(out + err, said);
  }
});

test('check: nothing wrong is 0, mistakes are 1 with their line, strand, step and place', () => {
  assert.deepEqual(
    [veil('check', CURTAIN).status, veil('check', `${DEMO}/painted-backdrop.shader.json`).status],
    [0, 0],
  );
  const wrong = curtain();
  wrong.strands[0]!.steps[0]!.arguments = { p: 'uv * celsl' };
  const path = file('wrong.shader.json', wrong);
  const { status, err } = veil('check', path);
  assert.equal(status, 1);
  assert.match(
    err,
    /wrong\.shader\.json:\d+: order, order-1 \(worley\), p: Nothing is called “celsl” here\. Did you mean cells\?/,
  );
  const { ok, findings } = JSON.parse(veil('check', path, '--json').out) as {
    ok: boolean;
    findings: { line: number; column: number; severity: string }[];
  };
  assert.equal(ok, false);
  assert.equal(findings[0]!.column, 6);
  assert.equal(findings[0]!.severity, 'mistake');
  assert.match(readFileSync(path, 'utf8').split('\n')[findings[0]!.line - 1]!, /"order-1"/);
});

test('bad files are a sentence and 1, whatever is in them', () => {
  for (const [name, content, said] of [
    ['empty.json', '', /this is not JSON/],
    ['list.json', [], /format: this should be one of/],
    ['newer.json', { format: 'wicked-veil/shader', version: 99 }, /made by a newer version/],
    [
      'broken.json',
      { format: 'wicked-veil/shader', version: 2, parameters: 3, strands: [], surface: {} },
      /parameters: A list should stand here/,
    ],
    ['loop.frag', 'void main() { for (int i = 0; i < 1000000000; i++) {} }', /goes round 1000000000 times/],
    ['braces.frag', 'void main() { if (true) {', /never closed/],
  ] as const) {
    const { status, err } = veil('check', file(name, content));
    assert.equal(status, 1, name);
    assert.match(err, said);
    assert.match(err, new RegExp(name.replace('.', '\\.')));
  }
  assert.match(veil('check', join(folder, 'none.json')).err, /there is no such file/);
  assert.match(veil('check', mkdtempSync(join(folder, 'bare-'))).err, /there is no document in this folder/);
  assert.match(veil('check', file('deep.json', '['.repeat(50_000))).err, /not JSON/);
  const deep = `{"format":${'['.repeat(5000)}${']'.repeat(5000)}}`;
  assert.match(veil('check', file('deeper.json', deep)).err, /format: this should be one of/);
});

test('compile writes what it was asked for, to a folder or to standard output', () => {
  const out = join(folder, 'build');
  assert.equal(veil('compile', CURTAIN, '--to', 'glsl', '--out', out).status, 0);
  assert.match(
    readFileSync(join(out, 'curtain-burn-away.frag'), 'utf8'),
    /^#version 300 es[\s\S]*float remains = step/,
  );
  assert.match(readFileSync(join(out, 'curtain-burn-away.vert'), 'utf8'), /gl_Position/);
  assert.match(
    veil('compile', `${DEMO}/painted-backdrop.shader.json`, '--to', 'wgsl').out,
    /@fragment\nfn fragmentMain/,
  );
  const contract = JSON.parse(veil('compile', `${DEMO}/bell-swing.shader.json`, '--to', 'contract').out) as {
    lifetimeVectors: number;
  };
  assert.equal(contract.lifetimeVectors, 2);
  assert.match(veil('compile', CURTAIN, '--to', 'bindings').out, /export interface CurtainBurnAwayValues/);
  assert.match(veil('compile', `${DEMO}/curtain.script.js`, '--to', 'glsl').err, /not JSON/);
});

test('a shader whose code runs only on the graphics card says so for WGSL', () => {
  const shader = curtain() as unknown as { strands: unknown[]; surface: { outputs: Record<string, string> } };
  shader.strands.push({
    id: 'x',
    name: 'odd',
    note: '',
    steps: [
      {
        id: 'x1',
        operator: 'code',
        arguments: {},
        code: 'float odd2(vec2 uv) { float a[300]; a[0] = uv.x; return a[0]; }',
      },
    ],
  });
  shader.surface.outputs['roughness'] = 'odd';
  const path = file('odd.shader.json', shader);
  assert.match(
    veil('check', path).out,
    /note: .*runs on the graphics card as you wrote it, and nowhere else: an array of 300 float is too long/,
  );
  const { status, err } = veil('compile', path, '--to', 'wgsl');
  assert.equal(status, 1);
  assert.match(err, /can be written only as GLSL/);
});

test('evaluate computes a strand at points, and says what a point lacks', () => {
  const points = file('points.json', {
    points: [{ uv: [0.1, 0.9] }, { uv: [0.9, 0.1] }],
    parameters: { burn: 0.5 },
  });
  const made = JSON.parse(veil('evaluate', CURTAIN, '--strand', 'front', '--points', points).out) as {
    type: string;
    values: number[][];
  };
  assert.equal(made.type, 'float');
  assert.equal(made.values.length, 2);
  assert.ok(made.values.flat().every(Number.isFinite));
  for (const [content, said] of [
    [{ points: [{ uv: [0.1] }] }, /points\[0\]\.uv: A list of 2 numbers/],
    [{ points: [{ uv: [0.1, 'NaN'] }] }, /points\[0\]\.uv\[1\]: A finite number/],
    [{ points: [{ position: [0, 0, 0] }] }, /points\[0\] has no uv/],
    [{ points: [{ uv: [0, 0], parameters: { brun: 1 } }] }, /no such parameter/],
  ] as const) {
    const { status, err } = veil(
      'evaluate',
      CURTAIN,
      '--strand',
      'front',
      '--points',
      file('bad.json', content),
    );
    assert.equal(status, 1);
    assert.match(err, said);
  }
});

test('bake writes a PNG of 8 or 16 bits with the very numbers', async () => {
  const shader = {
    format: 'wicked-veil/shader',
    version: 2,
    parameters: [],
    strands: [
      { id: 's', name: 'ramp', note: '', steps: [{ id: 's1', operator: 'value', arguments: { x: 'uv.x' } }] },
    ],
    surface: { lit: false, alphaMode: 'opaque', sides: 'both', depthWrite: true, outputs: {} },
  };
  const path = file('ramp.shader.json', shader);
  for (const bits of ['8', '16']) {
    const out = join(folder, `ramp${bits}.png`);
    const { status, out: said } = veil(
      'bake',
      path,
      '--strand',
      'ramp',
      '--size',
      '16',
      '--bits',
      bits,
      '--out',
      out,
    );
    assert.equal(status, 0);
    assert.match(said, /16 × 16, (8|16) bits, values from 0\.03125 to 0\.9688/);
    const meta = await sharp(out).metadata();
    assert.deepEqual([meta.width, meta.depth, meta.channels], [16, bits === '8' ? 'uchar' : 'ushort', 1]);
    const { data } = await sharp(out)
      .toColourspace(bits === '8' ? 'b-w' : 'grey16')
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true });
    const first = new Uint16Array(data.buffer, data.byteOffset, 16);
    assert.equal(first[8], Math.round((8.5 / 16) * (bits === '8' ? 255 : 65535)));
  }
  assert.match(veil('bake', path, '--strand', 'ramp', '--out', join(path, 'x.png')).err, /cannot be written/);
});

test('a texture’s picture is read from a file as numbers', async () => {
  const picture = join(folder, 'grey.png');
  await sharp(
    Uint8Array.from({ length: 12 }, () => 51),
    { raw: { width: 2, height: 2, channels: 3 } },
  )
    .png()
    .toFile(picture);
  const points = file('one.json', [{ uv: [0.5, 0.5] }]);
  const shader = JSON.parse(readFileSync(CURTAIN, 'utf8')) as { strands: unknown[] };
  shader.strands.push({
    id: 'z',
    name: 'seen',
    note: '',
    steps: [{ id: 'z1', operator: 'value', arguments: { x: 'texture(orderPicture, uv).r' } }],
  });
  const path = file('seen.shader.json', shader);
  const read = (...more: string[]) => veil('evaluate', path, '--strand', 'seen', '--points', points, ...more);
  const made = JSON.parse(read('--picture', `orderPicture=${picture}`).out) as { values: number[][] };
  assert.ok(Math.abs(made.values[0]![0]! - 0.2) < 1e-6);
  assert.match(read('--picture', 'orderPicture=none.png').err, /cannot be read/);
  assert.match(read('--picture', `map=${picture}`).err, /There is no texture “map”; there is orderPicture/);
});

test('import makes a document that checks, and says its guesses', () => {
  const source = file(
    'old.frag',
    'precision mediump float;\nvarying vec2 vUv;\nuniform float amount;\nvoid main() { gl_FragColor = vec4(vUv * amount, 0.0, 1.0); }\n',
  );
  const out = join(folder, 'old.shader.json');
  const made = veil('import', source, '--out', out);
  assert.equal(made.status, 0, made.err);
  assert.match(made.out, /vUv \(vec2\) reads uv\./);
  assert.equal(veil('check', out).status, 0);
  assert.match(veil('import', source, '--varying', 'vuv=uv').err, /has no varying “vuv”; it has vUv/);
  const { status, err } = veil('import', file('bad.frag', 'void main() {\n  gl_FragColor = ;\n}'));
  assert.equal(status, 1);
  assert.match(err, /bad\.frag:2:18: /);
});

test('a fragment that reads what nothing declares is told at its line, by check and by import', () => {
  const source = file(
    'undeclared.frag',
    'precision highp float;\nvarying vec2 vUv;\nvoid main() {\n  gl_FragColor = vec4(vUv, 0.0, 1.0 - gone);\n}\n',
  );
  for (const command of ['check', 'import']) {
    const { status, err } = veil(command, source);
    assert.equal(status, 1, command);
    assert.match(err, /undeclared\.frag:4:\d+: Nothing is called “gone” here/);
  }
});

test('operators are listed with everything that is known of them', () => {
  assert.match(veil('operators').out, /worley\(p: vec2 = uv, seed: int = 0/);
  const { operators: all } = JSON.parse(veil('operators', '--json').out) as {
    operators: { name: string; cost: { arithmetic: number } }[];
  };
  assert.ok(all.length > 100);
  assert.ok(all.find((each) => each.name === 'worley')!.cost.arithmetic > 50);
});

test('motifs beside a file are found, and a broken one is named', () => {
  const home = join(folder, 'project');
  mkdirSync(home);
  const copy = (name: string) => writeFileSync(join(home, name), readFileSync(`${DEMO}/${name}`));
  copy('painted-backdrop.shader.json');
  const alone = veil('check', join(home, 'painted-backdrop.shader.json'));
  assert.equal(alone.status, 1);
  assert.match(alone.err, /This motif is not in the project any more/);
  copy('near-and-far.motif.json');
  assert.equal(veil('check', join(home, 'painted-backdrop.shader.json')).status, 0);
  assert.equal(veil('check', join(home, 'near-and-far.motif.json')).status, 0);
  writeFileSync(join(home, 'other.motif.json'), '{}');
  assert.match(veil('check', join(home, 'painted-backdrop.shader.json')).err, /other\.motif\.json/);
});

test('a folder is checked whole: what documents name beside them, fields nobody knows, files of scripts', () => {
  const whole = veil('check', DEMO);
  assert.equal(whole.status, 0, whole.err);
  assert.equal(whole.out.match(/nothing is wrong/g)!.length, 12);
  const home = mkdtempSync(join(folder, 'set-'));
  const put = (name: string, content: unknown) =>
    writeFileSync(join(home, name), typeof content === 'string' ? content : JSON.stringify(content, null, 1));
  put('ember.shader.json', JSON.parse(veil('new', 'shader').out));
  put('a.material.json', { format: 'wicked-veil/material', version: 1, shader: 'embre', values: {} });
  put('b.material.json', {
    ...{ format: 'wicked-veil/material', version: 1, shader: 'ember' },
    ...{ values: { glow: [1] }, pictures: { map: 'map.png' } },
  });
  put('c.shader.json', { ...(JSON.parse(veil('new', 'shader').out) as object), mutted: true });
  put('d.script.js', 'onTick(() => {\n  let = 3;\n});');
  put('e.stage.json', JSON.parse(veil('new', 'stage').out));
  const { status, err } = veil('check', home);
  assert.equal(status, 1);
  for (const said of [
    /a\.material\.json:\d+: shader: There is no shader “embre” beside this/,
    /b\.material\.json:\d+: values\.glow: No parameter is called so/,
    /b\.material\.json:\d+: pictures\.map: No texture is called so/,
    /c\.shader\.json:\d+: mutted: There is no field “mutted” here/,
    /d\.script\.js:2: This cannot be read as JavaScript/,
    /e\.stage\.json:\d+: props\[0\]\.material: The prop Card wears “material”/,
  ])
    assert.match(err, said);
});

test('compile and bake of a folder make what changed, and only that', async () => {
  const out = join(folder, 'all');
  const first = veil('compile', DEMO, '--to', 'glsl,wgsl', '--to', 'contract', '--out', out);
  assert.equal(first.status, 0, first.err);
  assert.equal(first.out.match(/\.(frag|vert|wgsl|contract\.json)$/gm)!.length, 16);
  const contract = JSON.parse(readFileSync(join(out, 'curtain-burn-away.contract.json'), 'utf8')) as {
    materials: { name: string; uniforms: Record<string, number[]> }[];
  };
  assert.deepEqual(
    [contract.materials[0]!.name, contract.materials[0]!.uniforms['burn']],
    ['velvet-house-left', [0.46]],
  );
  assert.equal(veil('compile', DEMO, '--to', 'glsl,wgsl,contract', '--out', out).out, '16 unchanged.\n');
  const maps = join(folder, 'maps');
  const bakes = [
    'bake',
    CURTAIN,
    '--strand',
    'order',
    '--strand',
    'remains',
    '--size',
    '16x8',
    '--out',
    maps,
  ];
  const made = veil(...bakes, '--material', 'velvet-house-left', '--parameter', 'burn=1', '--json');
  const { baked, findings } = JSON.parse(made.out) as {
    baked: { out: string; width: number; height: number; greatest: number }[];
    findings: { message: string }[];
  };
  assert.deepEqual(
    baked.map((each) => [each.width, each.height]),
    [
      [16, 8],
      [16, 8],
    ],
  );
  assert.equal(baked[1]!.greatest, 0, 'at burn = 1 nothing is left');
  assert.deepEqual(
    findings.filter((each) => /No picture/.test(each.message)),
    [],
  );
  const meta = await sharp(baked[0]!.out).metadata();
  assert.deepEqual([meta.width, meta.height], [16, 8]);
  assert.match(veil(...bakes, '--material', 'velvet-house-left', '--parameter', 'burn=1').out, /2 unchanged/);
  assert.match(veil(...bakes, '--material', 'velvet-house-left').out, /remains\.png: 16 × 8/);
});

test('what is no number is told apart, and with --strict what is doubtful ends with 1', () => {
  const shader = JSON.parse(veil('new', 'shader').out) as { strands: unknown[] };
  const strand = (name: string, x: string) => ({
    ...{ id: name, name, note: '' },
    steps: [{ id: `${name}1`, operator: 'value', arguments: { x } }],
  });
  shader.strands.push(
    strand('over', '1.0 / uv.x'),
    strand('none', '0.0 / uv.x'),
    strand('high', 'uv.x * 2.0'),
  );
  const path = file('odd.shader.json', shader);
  const points = file('edge.json', [{ uv: [0, 0] }]);
  const read = (...args: readonly string[]) => veil('evaluate', path, '--points', points, ...args);
  assert.deepEqual((JSON.parse(read('--strand', 'over').out) as { values: unknown }).values, [['Infinity']]);
  const none = read('--strand', 'none', '--json', '--strict');
  assert.deepEqual((JSON.parse(none.out) as { values: unknown; ok: boolean }).values, [['NaN']]);
  assert.equal(none.status, 1);
  const bakes = ['bake', path, '--strand', 'high', '--size', '4', '--out', join(folder, 'high.png')];
  assert.equal(veil(...bakes).status, 0);
  const strict = veil(...bakes, '--strict');
  assert.equal(strict.status, 1);
  assert.match(strict.err, /outside 0–1 was held/);
});

test('an import that fails writes nothing; one that changes names lists them, in the contract too', () => {
  const out = join(folder, 'none.shader.json');
  assert.equal(
    veil('import', file('gone.frag', 'void main() { gl_FragColor = vec4(gone); }'), '--out', out).status,
    1,
  );
  assert.throws(() => readFileSync(out));
  const source =
    'uniform float uTime; uniform float opacity; uniform float worley;\nvoid main() { gl_FragColor = vec4(uTime * opacity * worley); }';
  const made = join(folder, 'names.shader.json');
  const { status, err, out: said } = veil('import', file('names.frag', source), '--out', made);
  assert.equal(status, 0, err);
  assert.match(err + said, /uTime is time; worley is worley2/);
  const { renamed, parameters } = JSON.parse(veil('compile', made, '--to', 'contract').out) as {
    renamed: unknown;
    parameters: { name: string }[];
  };
  assert.deepEqual(renamed, { uTime: 'time', worley: 'worley2' });
  assert.deepEqual(
    parameters.map((each) => each.name),
    ['opacity', 'worley2'],
  );
});

test('every kind of new document passes its check, the version is told, and help says what commands say', async () => {
  const home = mkdtempSync(join(folder, 'new-'));
  for (const kind of ['shader', 'material', 'motif', 'stage', 'script', 'shared'])
    writeFileSync(join(home, `${kind}.${kind}.json`), veil('new', kind).out);
  const { status, err } = veil('check', home);
  assert.equal(status, 0, err);
  assert.equal(
    veil('--version').out.trim(),
    (JSON.parse(readFileSync('package.json', 'utf8')) as { version: string }).version,
  );
  const help = veil('--help').out;
  for (const name of ['check', 'compile', 'evaluate', 'bake', 'operators', 'import', 'new'])
    for (const line of veil(name, '--help').out.split('\n').slice(0, 3).filter(Boolean))
      assert.ok(help.includes(line.replace('Usage: ', '')), line);
});

test('what is published of the code stands as the code says', async () => {
  for (const [path, text] of await publishedFiles())
    assert.equal(readFileSync(path, 'utf8'), text, `${path} is out of date; run npm run docs`);
  for (const [path, bytes] of publishedPictures())
    assert.deepEqual(new Uint8Array(readFileSync(path)), new Uint8Array(bytes), path);
});

test('what docs/veil.md shows of evaluate is what it answers', () => {
  const doc = readFileSync('docs/veil.md', 'utf8');
  const given = /echo '(\{ "points".*\})' > points\.json/.exec(doc)![1]!;
  const points = file('shown.json', JSON.parse(given));
  const shown = /evaluate \$C --strand order --points points\.json\n(\{[^]*?)\n```/.exec(doc)![1]!;
  assert.equal(veil('evaluate', CURTAIN, '--strand', 'order', '--points', points).out.trim(), shown);
});
