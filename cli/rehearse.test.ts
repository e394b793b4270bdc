import assert from 'node:assert/strict';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import Ajv2020 from 'ajv/dist/2020.js';
import { zipSync } from 'fflate';
import sharp from 'sharp';
import { readFloats } from '#server/floatPictures.ts';
import { closureOf } from '#core/document/closure.ts';
import type { StageDocument } from '#core/document/project.ts';
import { archiveFiles, type PackedPart } from '#core/handover/archive.ts';
import { keptInput, type ExportedTake } from '#core/time/takes.ts';
import { playhouse } from '#demo/playhouse.ts';
import { playTake } from '#script/playTake.ts';
import { joinPrelude } from '#script/prelude/joined.ts';
import { startOf } from '#script/startOf.ts';
import { folder, veil } from './veil.testing.ts';

const prelude = joinPrelude((part) => readFileSync(`src/script/prelude/${part}.js`, 'utf8'));
const SET = 'ghost-light';

/** The ghost light with a take of its kindling, as an archive; its set changed after that as told. */
const archive = async (name: string, change: (set: StageDocument) => StageDocument): Promise<string> => {
  const parts = closureOf(playhouse().parts as unknown as PackedPart[], SET);
  const inputs = [
    keptInput(10, { kind: 'down', code: 'KeyE' }),
    keptInput(200, { kind: 'down', code: 'KeyQ' }),
  ];
  const of = { ticks: 300, seed: 1, inputs };
  const work = playTake(of, { ...startOf(parts, SET), prelude });
  let step = await work.next();
  while (!step.done) step = await work.next();
  const { marks } = step.value;
  const take = { format: 'wicked-veil/take', version: 1, set: SET, ...of, marks } as const;
  const packed = [
    ...parts.map((each) => (each.id === SET ? { ...each, body: change(each.body as StageDocument) } : each)),
    { id: 'take-1', kind: 'take', name: 'Kindled', body: take },
  ] as PackedPart[];
  const file = join(folder, name);
  writeFileSync(file, zipSync(Object.fromEntries(archiveFiles('Playhouse', packed, new Map()))));
  return file;
};

test('veil rehearse plays a take as the workshop does, and says from when on a changed cue differs', async () => {
  const same = await archive('same.zip', (set) => set);
  const told = await veil('rehearse', same, '--take', 'Kindled');
  assert.equal(told.status, 0, told.err);
  assert.match(told.out, /^Kindled: 5\.00 s, every number as it was, /);
  const values = join(folder, 'values.json');
  assert.equal((await veil('rehearse', same, '--values', values)).status, 0);
  const written = JSON.parse(readFileSync(values, 'utf8')) as ExportedTake;
  const schema = JSON.parse(readFileSync('static/schema/take-values-1.schema.json', 'utf8')) as object;
  const valid = new Ajv2020().compile(schema);
  assert.ok(valid(written), JSON.stringify(valid.errors));
  assert.equal(valid({ ...written, changes: [{ tick: 0, values: { x: ['one'] } }] }), false);
  // Two and a half seconds after E the radius is at the cue’s end.
  const radius = written.changes
    .filter(({ tick }) => tick <= 160)
    .findLast((each) => each.values['painted-mural radius']);
  assert.deepEqual(radius!.values['painted-mural radius'], [1.75]);
  assert.match((await veil('rehearse', same, '--values', values)).err, /is there already; --force/);

  const changed = await archive('changed.zip', (set) => ({
    ...set,
    cues: set.cues!.map((cue) => ({
      ...cue,
      tracks: cue.tracks.map((track) =>
        track.id === 'dim-radius'
          ? { ...track, keys: track.keys.with(-1, { ...track.keys.at(-1)!, value: [0.3] }) }
          : track,
      ),
    })),
  }));
  const differs = await veil('rehearse', changed);
  assert.equal(differs.status, 1);
  // It was started at 200 ticks; at four seconds it is seen.
  assert.match(differs.err, /Kindled: At 4\.00 s radius of Painted mural is \S+, and was \S+\./);
  assert.match(
    (await veil('rehearse', same, '--take', 'Kindle')).err,
    /--take should be one of Kindled, not “Kindle”/,
  );
  assert.match((await veil('rehearse', 'docs')).err, /docs: there is no project\.json in this folder/);
  const none = await archive('none.zip', (set) => set);
  assert.equal((await veil('rehearse', none, '--json')).status, 0);
});

test('veil bake makes the textures of a project, the same bytes every time, and says what is not what it was', async () => {
  const recipe = (size: number, steps: readonly object[]) => ({
    ...{
      format: 'wicked-veil/texture',
      version: 1,
      size: [size, size],
      repeats: [true, true],
      holds: 'numbers',
    },
    steps: steps.map((step, i) => ({ id: `s${i}`, numbers: {}, words: {}, ...step })),
  });
  const packed = (seed: number) =>
    [
      ...closureOf(playhouse().parts as unknown as PackedPart[], SET),
      ...[
        ['cells', 'Cells', recipe(32, [{ step: 'noise', numbers: { seed: [seed] } }])],
        [
          'soft',
          'Soft cells',
          recipe(32, [{ step: 'texture', words: { texture: 'cells' } }, { step: 'blur' }]),
        ],
        [
          'sharp',
          'Sharp cells',
          recipe(32, [{ step: 'noise' }, { step: 'sharpen', numbers: { amount: [8] } }]),
        ],
        ['lost', 'Lost', recipe(8, [{ step: 'invert' }])],
      ].map(([id, name, body]) => ({ id, kind: 'texture', name, body })),
    ] as PackedPart[];
  const file = (name: string, seed: number): string => {
    const to = join(folder, name);
    writeFileSync(to, zipSync(Object.fromEntries(archiveFiles('Playhouse', packed(seed), new Map()))));
    return to;
  };
  const [first, other] = [file('made.zip', 1), file('other.zip', 2)];
  // Unpacked, with folders of its own in it, it is the same however its folder is spelled.
  const unpacked = join(folder, 'flat');
  for (const [name, bytes] of archiveFiles('Playhouse', packed(1), new Map())) {
    mkdirSync(join(unpacked, name, '..'), { recursive: true });
    writeFileSync(join(unpacked, name), bytes);
  }
  mkdirSync(join(unpacked, 'notes/more'), { recursive: true });
  for (const [cwd, path] of [
    [folder, 'flat'],
    [folder, './flat/'],
    [unpacked, '.'],
  ] as const) {
    const to = join(folder, 'flat.png');
    const before = process.cwd();
    process.chdir(cwd);
    const baked = await veil('bake', path, '--texture', 'Cells', '--out', to).finally(() =>
      process.chdir(before),
    );
    assert.equal(baked.status, 0, `${path}: ${baked.err}`);
  }
  const out = join(folder, 'soft.png');
  const made = await veil('bake', first, '--texture', 'Soft cells', '--out', out, '--bits', '16');
  assert.equal(made.status, 0, made.err);
  assert.match(made.out, /soft\.png: 32 × 32, 16 bits\./);
  const check = ['--texture', 'Soft cells', '--out', out, '--bits', '16', '--check'];
  assert.equal((await veil('bake', first, ...check)).status, 0);
  // It follows the texture that it reads.
  const changed = await veil('bake', other, ...check);
  assert.equal(changed.status, 1);
  assert.match(changed.err, /Soft cells: .*soft\.png is not what it comes to now/);
  // As OpenEXR it is what a picture step reads again, without a curve taken from it.
  const exr = join(folder, 'soft.exr');
  assert.equal(
    (await veil('bake', first, '--texture', 'Soft cells', '--out', exr, '--bits', '32')).status,
    0,
  );
  const floats = readFloats(readFileSync(exr)).samples;
  const whole = await sharp(out).toColourspace('rgb16').ensureAlpha().raw({ depth: 'ushort' }).toBuffer();
  const kept = new Uint16Array(whole.buffer, whole.byteOffset, whole.byteLength / 2);
  assert.equal(kept.length, floats.length);
  floats.forEach((x, i) =>
    assert.ok(Math.abs(x * 65535 - kept[i]!) <= 0.5, `${i}: ${x * 65535} and ${kept[i]}`),
  );
  // What eight bits cut is said; floats keep it.
  const sharpened = (...more: string[]) =>
    veil('bake', first, '--texture', 'Sharp cells', '--out', join(folder, 'maps'), ...more);
  assert.equal((await sharpened()).status, 0);
  const strict = await sharpened('--strict');
  assert.equal(strict.status, 1);
  assert.match(strict.err, /Sharp cells: It reaches from −\d.* to \d.*: in 8 bits what lies outside 0–1/);
  assert.equal((await sharpened('--strict', '--bits', '32')).status, 0);
  const all = await veil('bake', first, '--all', '--out', join(folder, 'maps'));
  assert.equal(all.status, 1);
  assert.match(all.err, /Lost: Lost cannot be made: invert changes a picture, and there is none before it/);
  assert.match(
    (await veil('bake', first, '--texture', 'Cels', '--out', out)).err,
    /one of Cells, Soft cells, Sharp cells, Lost, not “Cels”/,
  );
});

test('a script that never returns is killed within two seconds, and its name and line are told', async () => {
  for (const [way, line] of [
    ["('a'.repeat(2 ** 21) + 'b').lastIndexOf('a'.repeat(2 ** 20) + 'c');", 2],
    ["for (const each of [2 ** 21]) 'a'.repeat(each).indexOf('a'.repeat(each / 2) + 'b');", 3],
  ] as const) {
    const source = `// Held.\nonTick(() => {\n  ${way}\n});`;
    const parts = closureOf(playhouse().parts as unknown as PackedPart[], SET).map((each) =>
      each.kind === 'script' ? { ...each, body: { ...each.body, source } } : each,
    );
    const take = {
      format: 'wicked-veil/take',
      version: 1,
      set: SET,
      ticks: 5,
      seed: 1,
      inputs: [],
      marks: [],
    };
    const packed = [...parts, { id: 'take-1', kind: 'take', name: 'Held', body: take }] as PackedPart[];
    const file = join(folder, 'held.zip');
    writeFileSync(file, zipSync(Object.fromEntries(archiveFiles('Playhouse', packed, new Map()))));
    const began = performance.now();
    const { status, err } = await veil('rehearse', file);
    assert.deepEqual([status, performance.now() - began < 6000], [1, true], way);
    assert.match(err, new RegExp(`Held: The script .* went wrong.* line ${line}`), `${way}: ${err}`);
  }
});
