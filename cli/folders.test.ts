import assert from 'node:assert/strict';

import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';

import { join } from 'node:path';
import { after, test } from 'node:test';
import sharp from 'sharp';
import { publishedFiles, publishedPictures } from '../scripts/writeDocs.ts';
import { folder, DEMO, CURTAIN, veil, file } from './veil.testing.ts';
after(() => rmSync(folder, { recursive: true, force: true }));

test('motifs beside a file are found, and a broken one is named', async () => {
  const home = join(folder, 'project');
  mkdirSync(home);
  const copy = (name: string) => writeFileSync(join(home, name), readFileSync(`${DEMO}/${name}`));
  copy('painted-backdrop.shader.json');
  const alone = await veil('check', join(home, 'painted-backdrop.shader.json'));
  assert.equal(alone.status, 1);
  assert.match(alone.err, /This motif is not in the project any more/);
  copy('near-and-far.motif.json');
  assert.equal((await veil('check', join(home, 'painted-backdrop.shader.json'))).status, 0);
  assert.equal((await veil('check', join(home, 'near-and-far.motif.json'))).status, 0);
  writeFileSync(join(home, 'other.motif.json'), '{}');
  assert.match((await veil('check', join(home, 'painted-backdrop.shader.json'))).err, /other\.motif\.json/);
});

test('a folder is checked whole: what documents name beside them, fields nobody knows, files of scripts', async () => {
  const whole = await veil('check', DEMO);
  assert.equal(whole.status, 0, whole.err);
  const documents = readdirSync(DEMO).filter((each) => /\.(json|js)$/.test(each));
  assert.equal(whole.out.match(/nothing is wrong/g)!.length, documents.length);
  const home = mkdtempSync(join(folder, 'set-'));
  const put = (name: string, content: unknown) =>
    writeFileSync(join(home, name), typeof content === 'string' ? content : JSON.stringify(content, null, 1));
  put('ember.shader.json', JSON.parse((await veil('new', 'shader')).out));
  put('a.material.json', { format: 'wicked-veil/material', version: 1, shader: 'embre', values: {} });
  put('moss.texture.json', {
    ...{ format: 'wicked-veil/texture', version: 1, size: [4, 4] },
    steps: [
      { id: 'a', step: 'shader', words: { of: 'ember gone' } },
      { id: 'b', step: 'mix', words: { other: 'lichen' } },
      { id: 'c', step: 'meshMap', words: { of: 'crypt urn' } },
    ],
  });
  const made = await veil('check', join(home, 'moss.texture.json'));
  assert.equal(made.status, 1);
  assert.match(made.err, /moss\.texture\.json:\d+: .*“ember” has no strand with the id “gone”/);
  assert.match(made.err, /no texture “lichen” beside this/);
  assert.match(made.err, /no set “crypt” beside this that has a prop with the id “urn”/);
  put('b.material.json', {
    ...{ format: 'wicked-veil/material', version: 1, shader: 'ember' },
    ...{ values: { glow: [1] }, pictures: { map: 'map.png' } },
  });
  put('c.shader.json', { ...(JSON.parse((await veil('new', 'shader')).out) as object), mutted: true });
  put('d.script.js', 'onTick(() => {\n  let = 3;\n});');
  put('e.stage.json', JSON.parse((await veil('new', 'stage')).out));
  const { status, err } = await veil('check', home);
  assert.equal(status, 1);
  for (const said of [
    /a\.material\.json:\d+: shader: There is no shader “embre” beside this/,
    /b\.material\.json:\d+: values\.glow: No parameter has this id/,
    /b\.material\.json:\d+: pictures\.map: No texture parameter has this id/,
    /c\.shader\.json:\d+: mutted: There is no field “mutted” here/,
    /d\.script\.js:2: This cannot be read as JavaScript/,
    /e\.stage\.json:\d+: props\[0\]\.material: The prop Card wears “material”/,
  ])
    assert.match(err, said);
});

test('how a material reads a picture is followed, and a texture that is not what it is read as is told of', async () => {
  const home = mkdtempSync(join(folder, 'read-'));
  const put = (name: string, content: unknown) => {
    writeFileSync(join(home, name), JSON.stringify(content));
    return join(home, name);
  };
  // A row of four greys.
  await sharp(Buffer.from([0, 51, 102, 255]), { raw: { width: 4, height: 1, channels: 1 } })
    .png()
    .toFile(join(home, 'row.png'));
  const parameter = {
    ...{ id: 'p', name: 'rows', kind: 'texture', default: [], min: 0, max: 1 },
    ...{ unit: '', group: '', description: '' },
  };
  const shader = put('rowed.shader.json', {
    ...(JSON.parse((await veil('new', 'shader')).out) as object),
    ...{ parameters: [parameter] },
    strands: [
      {
        ...{ id: 'a', name: 'level', note: '' },
        steps: [{ id: 's', operator: 'value', arguments: { x: 'texture(rows, uv * 2.0).x' } }],
      },
    ],
    surface: {
      ...{ outputs: { baseColor: 'vec3(0.5)', roughness: 'level' }, lit: true },
      ...{ alphaMode: 'opaque', sides: 'front', depthWrite: true },
    },
  });
  const material = (sampling?: object) =>
    put('rowed.material.json', {
      ...{ format: 'wicked-veil/material', version: 1, shader: 'rowed', values: {} },
      ...{ pictures: { rows: 'row.png' }, made: { rows: 'row' }, ...(sampling && { sampling }) },
    });
  const level = async (u: number): Promise<number> => {
    const points = put('points.json', [{ uv: [u, 0.5] }]);
    const call = ['--strand', 'level', '--points', points, '--material', 'rowed'];
    const { out, err } = await veil('evaluate', shader, ...call);
    assert.equal(err, '');
    return (JSON.parse(out) as { values: number[][] }).values[0]![0]!;
  };
  material();
  // At twice 0.6875, that is 1.375: between the first two where it comes round, at the last where it does not.
  assert.ok(Math.abs((await level(0.6875)) - 0.2) < 1e-6, `${await level(0.6875)}`);
  material({ rows: { repeats: [false, true], filter: 'linear' } });
  assert.equal(await level(0.6875), 1);
  material({ rows: { repeats: [true, true], filter: 'nearest' } });
  assert.ok(Math.abs((await level(0.74)) - 0.2) < 1e-6, `${await level(0.74)}`);

  const texture = (holds: string, repeats: readonly boolean[]) =>
    put('row.texture.json', {
      ...{ format: 'wicked-veil/texture', version: 1, size: [4, 4], repeats, holds },
      steps: [{ id: 'n', step: 'noise' }],
    });
  texture('color', [false, true]);
  const told = await veil('check', shader);
  assert.match(told.out, /row holds colour, bent by sRGB’s curve, and rows is read as numbers/);
  assert.match(told.out, /row does not come round, and rows is read beyond its edges/);
  texture('numbers', [true, true]);
  assert.doesNotMatch((await veil('check', shader)).out, /row (holds|does)/);
});

test('what reads distances to surfaces is measured where its sets have it, and an open mesh among them is told of', async () => {
  const home = mkdtempSync(join(folder, 'near-'));
  const put = (name: string, content: object) => {
    writeFileSync(join(home, name), JSON.stringify(content));
    return join(home, name);
  };
  const begun = async (kind: string) => JSON.parse((await veil('new', kind)).out) as object;
  const [newShader, newStage] = [await begun('shader'), await begun('stage')];
  const shader = (low: number, high: number) =>
    put('nigh.shader.json', {
      ...newShader,
      strands: [
        {
          ...{ id: 'a', name: 'nigh', note: '' },
          steps: [{ id: 's', operator: 'value', arguments: { x: 'surfaceDistance' } }],
        },
      ],
      surface: {
        ...{ outputs: { emission: 'vec3(nigh)' }, lit: false },
        ...{ alphaMode: 'opaque', sides: 'front', depthWrite: true },
      },
      guarantees: [{ id: 'g', kind: 'within', strand: 'a', low, high }],
    });
  put('plain.shader.json', newShader);
  for (const name of ['nigh', 'plain'])
    put(`${name}.material.json`, { format: 'wicked-veil/material', version: 1, shader: name, values: {} });
  // The asking plane at z = 0, a block from z = 0.5 on before all of it, and a plane far behind.
  const prop = (id: string, mesh: object, position: readonly number[]) => ({
    ...{ id, name: id, material: id === 'asks' ? 'nigh' : 'plain', mesh, position, rotation: [0, 0, 0] },
  });
  const plane = { kind: 'plane', size: [1, 1], divisions: [1, 1] };
  const block = { kind: 'box', size: [4, 4, 1], divisions: [1, 1, 1], pivot: [0.5, 0.5, 0.5] };
  const set = (more: object) =>
    put('cellar.stage.json', {
      ...newStage,
      props: [
        prop('asks', plane, [0, 0, 0]),
        prop('block', block, [0, 0, 1]),
        { ...prop('behind', plane, [0, 0, -5]), ...more },
      ],
    });
  set({});
  assert.match(
    (await veil('check', shader(0.1, 0.4))).err,
    /“nigh stays within 0\.1 and 0\.4” does not hold: 0\.5 … 0\.5\./,
  );
  assert.equal((await veil('check', shader(0.49, 0.51))).err, '');
  // The plane is open: where it does not count, it is told of; by its distance alone it does.
  const cellar = join(home, 'cellar.stage.json');
  const open = /behind is open and has no inside/;
  const nearer = { position: [0, 0, -0.2] };
  set(nearer);
  assert.match((await veil('check', cellar)).out, open);
  assert.equal((await veil('check', shader(0.49, 0.51))).err, '');
  set({ ...nearer, unsigned: true });
  assert.doesNotMatch((await veil('check', cellar)).out, open);
  assert.match((await veil('check', shader(0.49, 0.51))).err, /does not hold: 0\.(2|19|20)/);
});

test('compile and bake of a folder make what changed, and only that', async () => {
  const out = join(folder, 'all');
  const first = await veil('compile', DEMO, '--to', 'glsl,wgsl', '--to', 'contract', '--out', out);
  assert.equal(first.status, 0, first.err);
  const files = 4 * readdirSync(DEMO).filter((each) => each.endsWith('.shader.json')).length;
  assert.equal(first.out.match(/\.(frag|vert|wgsl|contract\.json)$/gm)!.length, files);
  const contract = JSON.parse(readFileSync(join(out, 'curtain-burn-away.contract.json'), 'utf8')) as {
    materials: { name: string; uniforms: Record<string, number[]> }[];
  };
  assert.deepEqual(
    [contract.materials[0]!.name, contract.materials[0]!.uniforms['burn']],
    ['velvet-house-left', [0.46]],
  );
  assert.equal(
    (await veil('compile', DEMO, '--to', 'glsl,wgsl,contract', '--out', out)).out,
    `${files} unchanged.\n`,
  );
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
  const made = await veil(...bakes, '--material', 'velvet-house-left', '--parameter', 'burn=1', '--json');
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
  assert.match(
    (await veil(...bakes, '--material', 'velvet-house-left', '--parameter', 'burn=1')).out,
    /2 unchanged/,
  );
  assert.match((await veil(...bakes, '--material', 'velvet-house-left')).out, /remains\.png: 16 × 8/);
});

test('what is no number is told apart, and with --strict what is doubtful ends with 1', async () => {
  const shader = JSON.parse((await veil('new', 'shader')).out) as { strands: unknown[] };
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
  assert.deepEqual((JSON.parse((await read('--strand', 'over')).out) as { values: unknown }).values, [
    ['Infinity'],
  ]);
  const none = await read('--strand', 'none', '--json', '--strict');
  assert.deepEqual((JSON.parse(none.out) as { values: unknown; ok: boolean }).values, [['NaN']]);
  assert.equal(none.status, 1);
  const bakes = ['bake', path, '--strand', 'high', '--size', '4', '--out', join(folder, 'high.png')];
  assert.equal((await veil(...bakes)).status, 0);
  const strict = await veil(...bakes, '--strict');
  assert.equal(strict.status, 1);
  assert.match(strict.err, /It reaches from .* to .*: in 8 bits what lies outside 0–1 is held at its ends/);
});

test('an import that fails writes nothing; one that changes names lists them, in the contract too', async () => {
  const out = join(folder, 'none.shader.json');
  assert.equal(
    (await veil('import', file('gone.frag', 'void main() { gl_FragColor = vec4(gone); }'), '--out', out))
      .status,
    1,
  );
  assert.throws(() => readFileSync(out));
  const source =
    'uniform float uTime; uniform float opacity; uniform float worley;\nvoid main() { gl_FragColor = vec4(uTime * opacity * worley); }';
  const made = join(folder, 'names.shader.json');
  const { status, err, out: said } = await veil('import', file('names.frag', source), '--out', made);
  assert.equal(status, 0, err);
  assert.match(err + said, /uTime is time; worley is worley2/);
  const { renamed, parameters } = JSON.parse((await veil('compile', made, '--to', 'contract')).out) as {
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
  for (const kind of ['shader', 'material', 'motif', 'texture', 'stage', 'script', 'shared'])
    writeFileSync(join(home, `${kind}.${kind}.json`), (await veil('new', kind)).out);
  const { status, err } = await veil('check', home);
  assert.equal(status, 0, err);
  assert.equal(
    (await veil('--version')).out.trim(),
    (JSON.parse(readFileSync('package.json', 'utf8')) as { version: string }).version,
  );
  const help = (await veil('--help')).out;
  for (const name of ['check', 'compile', 'evaluate', 'bake', 'operators', 'import', 'new'])
    for (const line of (await veil(name, '--help')).out.split('\n').slice(0, 3).filter(Boolean))
      assert.ok(help.includes(line.replace('Usage: ', '')), line);
});

test('what is published of the code stands as the code says', async () => {
  for (const [path, text] of await publishedFiles())
    assert.equal(readFileSync(path, 'utf8'), text, `${path} is out of date; run npm run docs`);
  for (const [path, bytes] of publishedPictures())
    assert.deepEqual(new Uint8Array(readFileSync(path)), new Uint8Array(bytes), path);
});

test('what docs/veil.md shows of evaluate is what it answers', async () => {
  const doc = readFileSync('docs/veil.md', 'utf8');
  const given = /echo '(\{ "points".*\})' > points\.json/.exec(doc)![1]!;
  const points = file('shown.json', JSON.parse(given));
  const shown = /evaluate \$C --strand order --points points\.json\n(\{[^]*?)\n```/.exec(doc)![1]!;
  assert.equal((await veil('evaluate', CURTAIN, '--strand', 'order', '--points', points)).out.trim(), shown);
});
