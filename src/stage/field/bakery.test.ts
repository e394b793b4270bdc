import assert from 'node:assert/strict';
import { afterEach, beforeEach, mock, test } from 'node:test';
import { Matrix4 } from 'three';
import { makeMesh } from '#core/meshes/makeMesh.ts';
import type { Volume } from '#core/meshes/volume.ts';
import { createBakery } from './bakery.ts';
import { volumeKey, type ToBake } from './bakeVolume.ts';
import type { ToBaker } from './bake.worker.ts';
import { bakedScale } from './rigid.ts';

const { positions, indices } = makeMesh({ kind: 'sphere', radius: 1, divisions: [8, 6] });
const scaled = (x: number): ToBake => ({ positions, indices, scale: [x, x, x] });
const wanting = (...orders: readonly ToBake[]) => new Map(orders.map((each) => [volumeKey(each), each]));

/** Workers that bake nothing by themselves: each call of `answer` bakes what was posted last. */
let posted: ToBaker[] = [];
let ended = 0;
let answer: (volume?: Volume) => void = () => undefined;
class StandIn {
  onmessage: ((event: { data: unknown }) => void) | null = null;
  postMessage(message: ToBaker) {
    posted.push(message);
    answer = (volume = { of: message.scale } as never) =>
      this.onmessage?.({ data: { key: message.key, volume } });
  }
  terminate() {
    ended += 1;
    this.onmessage = null;
  }
}
beforeEach(() => {
  [posted, ended] = [[], 0];
  (globalThis as { Worker?: unknown }).Worker = StandIn;
  mock.timers.enable({ apis: ['setTimeout'] });
  mock.method(performance, 'now', () => clock);
  clock = 0;
});
let clock = 0;
afterEach(() => mock.restoreAll());
afterEach(() => mock.timers.reset());
const pass = async (milliseconds: number) => {
  clock += milliseconds;
  mock.timers.tick(milliseconds);
  // The store of earlier visits is asked first.
  for (let i = 0; i < 4; i += 1) await Promise.resolve();
};
const open = () => {
  const volumes = new Map<string, unknown>();
  const bakery = createBakery({
    bakes: true,
    onVolume: (key, volume) => volumes.set(key, volume),
    onRefused: () => assert.fail('nothing is refused here'),
    onProgress: () => undefined,
  });
  return { bakery, volumes };
};

test('a prop scaled over a hundred frames bakes one volume, of the scale it comes to rest at, under its own key', async () => {
  const { bakery, volumes } = open();
  for (let frame = 0; frame < 100; frame += 1) {
    bakery.want(wanting(scaled(1 + frame / 100)));
    await pass(16);
  }
  assert.equal(posted.length, 0, 'while it is being scaled nothing is baked');
  await pass(200);
  assert.deepEqual(
    posted.map(({ scale }) => scale),
    [[1.99, 1.99, 1.99]],
  );
  answer();
  assert.deepEqual([...volumes.keys()], [volumeKey(scaled(1.99))]);
  assert.ok(!bakery.isBaking());
});

test('what is ordered at one scale is baked at that scale, whatever is ordered while it waits', async () => {
  const { bakery, volumes } = open();
  const other = makeMesh({ kind: 'sphere', radius: 2, divisions: [8, 6] });
  bakery.want(wanting(scaled(1), other));
  await pass(200);
  // The one being baked is not wanted any more: its worker is ended, and its answer would be nobody's.
  bakery.want(wanting(other, scaled(3)));
  assert.equal(ended, 1);
  await pass(200);
  answer();
  await pass(0);
  answer();
  assert.deepEqual([...volumes.keys()], [volumeKey(other), volumeKey(scaled(3))]);
  assert.deepEqual(
    posted.map(({ scale = [1, 1, 1] }) => scale[0]),
    [1, 1, 3],
  );
  assert.ok(posted.slice(1).every(({ key, ...order }) => key === volumeKey(order)));
});

test('the key of a volume is another for each input that is another', () => {
  const moved = Float32Array.from(positions);
  moved[7]! += 1e-3;
  const turned = Uint32Array.from(indices);
  [turned[0], turned[1]] = [turned[1]!, turned[0]!];
  const orders: ToBake[] = [
    { positions, indices },
    { positions: moved, indices },
    { positions, indices: turned },
    { positions, indices, unsigned: true },
    ...[0, 1, 2].map((c) => ({
      positions,
      indices,
      scale: [0, 1, 2].map((k) => (k === c ? 1.5 : 1)) as never,
    })),
  ];
  assert.equal(new Set(orders.map(volumeKey)).size, orders.length);
  assert.equal(volumeKey({ positions: positions.slice(), indices: indices.slice() }), volumeKey(orders[0]!));
  const spun = new Matrix4().makeRotationY(0.7).multiply(new Matrix4().makeScale(1.3, 1.3, 1.3));
  assert.deepEqual(bakedScale(spun), [1.3, 1.3, 1.3], 'turning a prop orders no other volume');
});
