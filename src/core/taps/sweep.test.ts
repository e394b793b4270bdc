import assert from 'node:assert/strict';
import { test } from 'node:test';
import { compileShader } from '../compileShader.ts';
import { changeParts } from '../edits/changeParts.ts';
import { driveRange } from '../edits/driveRange.ts';
import { newPart, type PartOf } from '../document/project.ts';
import { emptyShader, type Parameter, type ShaderDocument } from '../document/shader.ts';
import type { Standing } from '../evaluate/points/onMesh.ts';
import { makeMesh } from '../meshes/makeMesh.ts';
import { placeAt, type Volume } from '../meshes/volume.ts';
import { mapCsv, sweepMap, type SweptMap } from './sweepMap.ts';
import { drivenRange, sweep, sweptCsv, sweptSentences, sweptStrands, type Swept } from './sweep.ts';

const amount: Parameter = {
  ...{ id: 'p', name: 'amount', kind: 'float', default: [0.5], min: 0, max: 2 },
  ...{ unit: 'm', group: '', description: '' },
};
const shaderOf = (mask: string, surface: object = {}): ShaderDocument => ({
  ...emptyShader(),
  parameters: [amount],
  strands: [
    { id: 's', name: 'mask', note: '', steps: [{ id: 'a', operator: 'value', arguments: { x: mask } }] },
    { id: 't', name: 'still', note: '', steps: [{ id: 'b', operator: 'value', arguments: { x: 'uv.y' } }] },
    {
      id: 'u',
      name: 'pair',
      note: '',
      steps: [{ id: 'c', operator: 'value', arguments: { x: 'uv * amount' } }],
    },
  ],
  surface: {
    ...{ lit: false, alphaMode: 'blended', sides: 'front', depthWrite: true },
    ...{ outputs: { opacity: 'mask', baseColor: 'vec3(0.5)', emission: 'vec3(0.0, float(amount), 0.0)' } },
    ...surface,
  },
});
const standing: Standing = {
  mesh: makeMesh({ kind: 'card', size: [1, 1], divisions: [1, 1] }),
  placement: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1],
  lens: {
    ...{ position: [0, 0, 2], right: [1, 0, 0], up: [0, 1, 0], back: [0, 0, 1] },
    ...{ fieldOfView: 40, width: 100, height: 100 },
  },
  ...{ time: 0, timeStep: 1 / 60 },
};
const swept = (document: ShaderDocument, more: object = {}): Swept => {
  const { shader } = compileShader(document);
  const work = sweep({
    ...{ program: shader!.program, parameter: 'amount', from: -1, to: 3, samples: 41, standing },
    given: { parameters: new Map([['amount', [0.5]]]), knobs: shader!.knobs },
    ...more,
  });
  for (let step = work.next(); ; step = work.next()) if (step.done) return step.value;
};
const near = (x: number, y: number, by: number) => assert.ok(Math.abs(x - y) <= by, `${x} is not ${y}`);

test('a sweep finds how much shows, where nothing and where all of it does', () => {
  // amount − u, held to 0–1: its mean over u is a²/2 up to 1, then 1 − (2 − a)²/2.
  const found = swept(shaderOf('clamp(amount - uv.x, 0.0, 1.0)'));
  const at = (a: number) => found.samples.find((each) => Math.abs(each.at - a) < 1e-9)!;
  near(at(0.5).share, 0.125, 1e-3);
  near(at(1.5).share, 0.875, 1e-3);
  near(at(0.5).brightest, 1, 1e-6);
  // From 1.4 to 1.5 those grow that were not whole yet: 0.875 − 0.82.
  near(at(1.5).change, 0.055, 2e-3);
  assert.equal(found.nothing.length, 1);
  assert.equal(found.nothing[0]!.from, -1);
  near(found.nothing[0]!.to, 1 / 512, 2e-3);
  near(found.whole[0]!.from, 2 - 1 / 512, 2e-3);
  assert.equal(found.whole[0]!.to, 3);
  const { from, to } = drivenRange(found, -1, 3);
  assert.deepEqual([from, to], [found.nothing[0]!.to, found.whole[0]!.from]);
  assert.match(sweptSentences(found, 'm')[0]!, /^Nothing shows up to 0\.00\d m\.$/);
  assert.equal(sweptCsv(found, 'amount').split('\n').length, 43);
});

test('a sweep knows how far what stands near is, where it is told', () => {
  // A wall a metre behind the card, all of whose distances are grown evenly along z.
  const wall: Volume = {
    ...{ size: [4, 4, 16], low: [-2, -2, -2], high: [2, 2, 2], signed: true },
    values: Float32Array.from({ length: 256 }, (_, i) => placeAt(-2, 2, 16, Math.floor(i / 16)) + 1),
  };
  const near: Standing['near'] = [{ volume: wall, toMesh: standing.placement }];
  const found = swept(shaderOf('step(surfaceDistance, amount)'), { standing: { ...standing, near } });
  assert.ok(Math.abs(found.nothing[0]!.to - 1) < 2e-3, `${found.nothing[0]!.to}`);
  assert.ok(Math.abs(found.whole[0]!.from - 1) < 2e-3, `${found.whole[0]!.from}`);
});

test('what is cut out shows or does not; what comes and goes has spans of its own', () => {
  const cut = swept(shaderOf('amount - uv.x + 0.5', { alphaMode: 'cutout' }));
  near(cut.samples.find(({ at }) => Math.abs(at - 0.3) < 1e-9)!.share, 0.3, 2e-3);
  const both = swept(shaderOf('step(0.5, sin(amount * 3.14159265))'));
  // sin is above ½ from 1/6 to 5/6, and again two later.
  const ends = both.whole.map(({ from, to }) => [from, to]);
  assert.equal(ends.length, 2);
  [1 / 6, 5 / 6, 13 / 6, 17 / 6].forEach((wanted, i) => near(ends[i >> 1]![i % 2]!, wanted, 2e-3));
  assert.match(
    sweptSentences(both)[1]!,
    /^All of it shows from 0\.16\d to 0\.83\d, and from 2\.1\d+ to 2\.83\d?\.$/,
  );
});

test('a whole number is swept by whole numbers, each once', () => {
  const document = shaderOf('step(2.5, float(amount))');
  const whole: Parameter = { ...amount, kind: 'int', default: [1], max: 9 };
  const found = swept(
    { ...document, parameters: [whole], strands: document.strands.slice(0, 2) },
    { to: 9.5 },
  );
  assert.deepEqual(
    found.samples.map(({ at }) => at),
    [-1, 0, 1, 2, 3, 4, 5, 6, 7, 8, 9],
  );
  assert.deepEqual([found.nothing, found.whole], [[{ from: -1, to: 2 }], [{ from: 3, to: 9 }]]);
});

test('over two parameters, as much shows as by hand at each pair', () => {
  const edge: Parameter = { ...amount, id: 'q', name: 'edge', min: 0, max: 1, unit: '' };
  const plain = shaderOf('step(edge * amount, uv.x)');
  const document = { ...plain, parameters: [amount, edge] };
  const { shader } = compileShader(document);
  const ask = {
    ...{ program: shader!.program, parameter: 'amount', from: 0, to: 2, samples: 5, standing },
    given: {
      parameters: new Map([
        ['amount', [0.5]],
        ['edge', [0.5]],
      ]),
      knobs: shader!.knobs,
      pictures: new Map(),
    },
  };
  const run = (second: string): SweptMap => {
    const work = sweepMap(ask, { parameter: second, from: 0, to: 1 });
    for (let step = work.next(); ; step = work.next()) if (step.done) return step.value;
  };
  const { xs, ys, share, nothing, whole } = run('edge');
  assert.deepEqual(
    [xs, ys],
    [
      [0, 0.5, 1, 1.5, 2],
      [0, 0.25, 0.5, 0.75, 1],
    ],
  );
  ys.forEach((y, k) =>
    xs.forEach((x, i) => {
      // Of the square of uv, what lies right of the product.
      assert.ok(Math.abs(share[k]![i]! - Math.max(1 - x * y, 0)) < 0.01, `${x}, ${y}: ${share[k]![i]}`);
      assert.deepEqual([nothing[k]![i], whole[k]![i]], [x * y >= 1, x * y === 0]);
    }),
  );
  assert.equal(mapCsv(run('edge'), 'amount', 'edge').split('\n')[2], '0.5,0,1');
  assert.throws(() => run('amount'), /these are the same/);
  assert.throws(() => run('wave'), /Nothing in this shader reads wave/);
});

test('what cannot be swept is refused with its reason', () => {
  assert.throws(() => swept(shaderOf('amount'), { to: -1 }), /these are the same/);
  assert.throws(() => swept(shaderOf('amount'), { parameter: 'burn' }), /Nothing in this shader reads burn/);
  assert.throws(() => swept(shaderOf('amount', { alphaMode: 'opaque' })), /it is opaque/);
  assert.throws(() => swept(shaderOf('amount'), { strand: 'u' }), /several numbers/);
  assert.throws(() => swept(shaderOf('amount * surfaceDistance')), /only the picture knows/);
  const { shader } = compileShader(shaderOf('amount'));
  assert.deepEqual(sweptStrands(shader!.program, 'amount'), ['s']);
});

test('driven from 0 to 1 between its ends, a parameter means what it meant, everywhere it stands', () => {
  const shader = newPart('shader', 'sh', 'Veil', shaderOf('amount')) as PartOf<'shader'>;
  const material = newPart('material', 'm', 'Gauze', {
    ...{ format: 'wicked-veil/material', version: 2, shader: 'sh', values: { p: [1.25] } },
    presets: [{ name: 'gone', values: { p: [-3] } }],
  });
  const parts = new Map([shader, material].map((each) => [each.id, each]));
  const changes = driveRange([shader, material], shader, amount, [0.25, 2.25]);
  if (typeof changes === 'string') throw new Error(changes);
  const { parts: made, back } = changeParts(parts, changes);
  const after = made.get('sh') as PartOf<'shader'>;
  const [now] = after.body.parameters;
  assert.deepEqual([now!.default, now!.min, now!.max, now!.ends], [[0.125], 0, 1, [0.25, 2.25]]);
  const values = (made.get('m') as PartOf<'material'>).body;
  assert.deepEqual([values.values, values.presets![0]!.values], [{ p: [0.5] }, { p: [0] }]);
  assert.deepEqual(changeParts(made, back).parts, parts);
  // Of what has ends already, the new ones lie between those.
  const again = driveRange([], after, now!, [0.5, 1]);
  assert.deepEqual(
    again.length === 1 && typeof again[0] === 'object' && again[0].op === 'change'
      ? (again[0].patches[0] as { value: Parameter }).value.ends
      : again,
    [1.25, 2.25],
  );
  assert.match(driveRange([], shader, amount, [1, 1]) as string, /the same/);
  assert.match(driveRange([], shader, { ...amount, scope: 'shared' }, [0, 1]) as string, /shared by every/);
});
