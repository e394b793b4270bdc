import assert from 'node:assert/strict';
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { after, test } from 'node:test';
import sharp from 'sharp';
import { readFloats } from '#server/floatPictures.ts';
import { folder, DEMO, CURTAIN, curtain, veil, veilStarted, file } from './veil.testing.ts';

after(() => rmSync(folder, { recursive: true, force: true }));

test('--help says what there is, and a wrong call what was expected', async () => {
  const help = await veil('--help');
  assert.equal(help.status, 0);
  for (const word of [
    'check',
    'compile',
    'evaluate',
    'bake',
    'sweep',
    'rehearse',
    'operators',
    'import',
    'new',
  ]) {
    assert.match(help.out, new RegExp(`veil ${word}`));
    assert.match((await veil(word, '--help')).out, /Usage|veil /);
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
    [['bake', CURTAIN, '--strand', 'order', '--out', 'x.png', '--bits', '12'], /--bits is 8, 16 or 32/],
    [['sweep', CURTAIN, '--of', 'brun'], /--of should be one of burn,.*not “brun”/],
    [['sweep', CURTAIN, '--of', 'burn', '--over', 'moon'], /--over is square or a kind of mesh/],
    [['sweep', CURTAIN, '--of', 'burn', '--samples', '1'], /from 2 to 4096/],
    [['evaluate', CURTAIN, '--strand', 'ordre', '--points', 'p.json'], /--strand should be one of order/],
  ] as const) {
    const { status, out, err } = await veil(...args);
    assert.equal(status, 2, args.join(' '));
    assert.match(out + err, said);
  }
});

test('started as a user starts it, it answers, refuses and ends as it does within a program', async () => {
  const bad = file('bad-start.shader.json', { format: 'wicked-veil/shader' });
  for (const args of [
    ['--help'],
    [],
    ['chekc'],
    ['check', CURTAIN],
    ['check', bad],
    ['check', bad, '--json'],
    ['compile', CURTAIN, '--to', 'glsl'],
  ])
    assert.deepEqual(veilStarted(...args), await veil(...args), args.join(' '));
});

test('what is watched is checked again when it changes, and ends well when it is interrupted', async (t) => {
  const path = file('watched.shader.json', curtain());
  const started = spawn(process.execPath, ['cli/veil.mjs', 'check', path, '--watch'], { stdio: 'pipe' });
  t.after(() => started.kill('SIGKILL'));
  const [said] = (await once(started.stdout, 'data')) as [Buffer];
  assert.match(String(said), /^note: .*watched\.shader\.json/);
  // It is written until that is seen, with a pause that it waits for: a watch begins only after what it said first.
  const writing = setInterval(() => file('watched.shader.json', '{'), 500);
  const [wrong] = (await once(started.stderr, 'data')) as [Buffer];
  clearInterval(writing);
  assert.match(String(wrong), /not JSON/);
  started.kill('SIGINT');
  assert.deepEqual(await once(started, 'exit'), [0, null]);
});

test('check: nothing wrong is 0, mistakes are 1 with their line, strand, step and place', async () => {
  assert.deepEqual(
    [
      (await veil('check', CURTAIN)).status,
      (await veil('check', `${DEMO}/painted-backdrop.shader.json`)).status,
    ],
    [0, 0],
  );
  const wrong = curtain();
  wrong.strands[0]!.steps[0]!.arguments = { p: 'uv * celsl' };
  const path = file('wrong.shader.json', wrong);
  const { status, err } = await veil('check', path);
  assert.equal(status, 1);
  assert.match(
    err,
    /wrong\.shader\.json:\d+: order, order-1 \(worley\), p: Nothing is called “celsl” here\. Did you mean cells\?/,
  );
  const { ok, findings } = JSON.parse((await veil('check', path, '--json')).out) as {
    ok: boolean;
    findings: { line: number; column: number; severity: string }[];
  };
  assert.equal(ok, false);
  assert.equal(findings[0]!.column, 6);
  assert.equal(findings[0]!.severity, 'mistake');
  assert.match(readFileSync(path, 'utf8').split('\n')[findings[0]!.line - 1]!, /"order-1"/);
});

test('bad files are a sentence and 1, whatever is in them', async () => {
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
    const { status, err } = await veil('check', file(name, content));
    assert.equal(status, 1, name);
    assert.match(err, said);
    assert.match(err, new RegExp(name.replace('.', '\\.')));
  }
  assert.match((await veil('check', join(folder, 'none.json'))).err, /there is no such file/);
  assert.match(
    (await veil('check', mkdtempSync(join(folder, 'bare-')))).err,
    /there is no document in this folder/,
  );
  assert.match((await veil('check', file('deep.json', '['.repeat(50_000)))).err, /not JSON/);
  const deep = `{"format":${'['.repeat(5000)}${']'.repeat(5000)}}`;
  assert.match((await veil('check', file('deeper.json', deep))).err, /format: this should be one of/);
});

test('compile writes what it was asked for, to a folder or to standard output', async () => {
  const out = join(folder, 'build');
  assert.equal((await veil('compile', CURTAIN, '--to', 'glsl', '--out', out)).status, 0);
  assert.match(
    readFileSync(join(out, 'curtain-burn-away.frag'), 'utf8'),
    /^#version 300 es[\s\S]*float remains = step/,
  );
  assert.match(readFileSync(join(out, 'curtain-burn-away.vert'), 'utf8'), /gl_Position/);
  assert.match(
    (await veil('compile', `${DEMO}/painted-backdrop.shader.json`, '--to', 'wgsl')).out,
    /@fragment\nfn fragmentMain/,
  );
  const contract = JSON.parse(
    (await veil('compile', `${DEMO}/bell-swing.shader.json`, '--to', 'contract')).out,
  ) as {
    lifetimeVectors: number;
  };
  assert.equal(contract.lifetimeVectors, 2);
  assert.match(
    (await veil('compile', CURTAIN, '--to', 'bindings')).out,
    /export interface CurtainBurnAwayValues/,
  );
  assert.match((await veil('compile', `${DEMO}/curtain.script.js`, '--to', 'glsl')).err, /not JSON/);
});

test('a shader whose code runs only on the graphics card says so for WGSL', async () => {
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
    (await veil('check', path)).out,
    /note: .*runs on the graphics card as you wrote it, and nowhere else: an array of 300 float is too long/,
  );
  const { status, err } = await veil('compile', path, '--to', 'wgsl');
  assert.equal(status, 1);
  assert.match(err, /can be written only as GLSL/);
});

test('evaluate computes a strand at points, and says what a point lacks', async () => {
  const points = file('points.json', {
    points: [{ uv: [0.1, 0.9] }, { uv: [0.9, 0.1] }],
    parameters: { burn: 0.5 },
  });
  const made = JSON.parse((await veil('evaluate', CURTAIN, '--strand', 'front', '--points', points)).out) as {
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
    const { status, err } = await veil(
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

test('bake writes a PNG of 8 or 16 bits, or OpenEXR of 32, with the very numbers', async () => {
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
    const { status, out: said } = await veil(
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
  // Floats are written as they are, beyond 0–1 too.
  const exr = join(folder, 'ramp.exr');
  const wide = file('wide.shader.json', {
    ...shader,
    strands: [
      {
        ...shader.strands[0],
        steps: [{ id: 's1', operator: 'value', arguments: { x: 'uv.x * 4.0 - 1.0' } }],
      },
    ],
  });
  const asked = ['bake', wide, '--strand', 'ramp', '--size', '16x8', '--bits', '32', '--strict'];
  assert.equal((await veil(...asked, '--out', exr)).status, 0);
  const { width, height, samples } = readFloats(readFileSync(exr));
  assert.deepEqual([width, height], [16, 8]);
  assert.deepEqual([...samples.subarray(0, 4)], [...Float32Array.of(4 / 32 - 1, 4 / 32 - 1, 4 / 32 - 1, 1)]);
  assert.equal(samples[15 * 4], Math.fround(4 * (15.5 / 16) - 1));
  assert.match((await veil(...asked, '--out', join(folder, 'x.png'))).err, /so many bits are kept as \.exr/);
  assert.match(
    (await veil('bake', path, '--strand', 'ramp', '--out', join(path, 'x.png'))).err,
    /cannot be written/,
  );
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
  const made = JSON.parse((await read('--picture', `orderPicture=${picture}`)).out) as { values: number[][] };
  assert.ok(Math.abs(made.values[0]![0]! - 0.2) < 1e-6);
  assert.match((await read('--picture', 'orderPicture=none.png')).err, /cannot be read/);
  assert.match(
    (await read('--picture', `map=${picture}`)).err,
    /There is no texture “map”; there is orderPicture/,
  );
});

test('import makes a document that checks, and says its guesses', async () => {
  const source = file(
    'old.frag',
    'precision mediump float;\nvarying vec2 vUv;\nuniform float amount;\nvoid main() { gl_FragColor = vec4(vUv * amount, 0.0, 1.0); }\n',
  );
  const out = join(folder, 'old.shader.json');
  const made = await veil('import', source, '--out', out);
  assert.equal(made.status, 0, made.err);
  assert.match(made.out, /vUv \(vec2\) reads uv\./);
  assert.equal((await veil('check', out)).status, 0);
  assert.match((await veil('import', source, '--varying', 'vuv=uv')).err, /has no varying “vuv”; it has vUv/);
  const { status, err } = await veil('import', file('bad.frag', 'void main() {\n  gl_FragColor = ;\n}'));
  assert.equal(status, 1);
  assert.match(err, /bad\.frag:2:18: /);
});

test('a fragment that reads what nothing declares is told at its line, by check and by import', async () => {
  const source = file(
    'undeclared.frag',
    'precision highp float;\nvarying vec2 vUv;\nvoid main() {\n  gl_FragColor = vec4(vUv, 0.0, 1.0 - gone);\n}\n',
  );
  for (const command of ['check', 'import']) {
    const { status, err } = await veil(command, source);
    assert.equal(status, 1, command);
    assert.match(err, /undeclared\.frag:4:\d+: Nothing is called “gone” here/);
  }
});

test('operators are listed with everything that is known of them', async () => {
  assert.match((await veil('operators')).out, /worley\(p: vec2 = uv, seed: int = 0/);
  const { operators: all } = JSON.parse((await veil('operators', '--json')).out) as {
    operators: { name: string; cost: { arithmetic: number } }[];
  };
  assert.ok(all.length > 100);
  assert.ok(all.find((each) => each.name === 'worley')!.cost.arithmetic > 50);
});

test('check: a guarantee that does not hold ends with 1 and its figure; what checks find are notes', async () => {
  const shader = curtain() as unknown as { guarantees: unknown[]; parameters: unknown[] };
  shader.guarantees = [{ id: 'half', kind: 'shows', shows: 'nothing', parameter: 'p-burn', at: 0.5 }];
  const path = file('promised.shader.json', shader);
  const { status, err, out } = await veil('check', path);
  assert.equal(status, 1);
  assert.match(
    err,
    /promised\.shader\.json:\d+: The guarantee “at burn = 0\.5 nothing shows” does not hold: [\d.]+ %/,
  );
  // No script is beside it that reads what only scripts read.
  assert.match(out, /note: .*The parameter speed is read nowhere/);
  const { findings } = JSON.parse((await veil('check', path, '--json')).out) as {
    findings: { check?: string }[];
  };
  assert.ok(findings.some(({ check }) => check === 'unused-name'));
  shader.guarantees = [];
  const kept = file('promised.shader.json', shader);
  assert.equal((await veil('check', kept)).status, 0);
  assert.equal((await veil('check', kept, '--strict')).status, 1);
});
