import assert from 'node:assert/strict';
import { afterEach, beforeEach, mock, test } from 'node:test';
import { newPart, partsOf, type Part, type PartOf } from '#core/document/project.ts';
import { changeParts, type PartChange } from '#core/edits/changeParts.ts';
import type { FromTextureMaker, ToTextureMaker } from '../../../workers/texture.worker.ts';
import { createBaking } from './baking.svelte.ts';

const sha = (letter: string): string => letter.repeat(64);
/** What stands in for the worker: it makes what it is told when the test says so. */
class Maker {
  static all: Maker[] = [];
  static get last(): Maker {
    return Maker.all.at(-1)!;
  }
  readonly told: ToTextureMaker[] = [];
  isEnded = false;
  onmessage?: (event: { readonly data: FromTextureMaker }) => void;
  onerror?: (event: { readonly message: string; readonly preventDefault: () => void }) => void;
  constructor() {
    Maker.all.push(this);
  }
  postMessage(message: ToTextureMaker): void {
    this.told.push(message);
  }
  terminate(): void {
    this.isEnded = true;
  }
  get baking(): string | undefined {
    const last = this.told.at(-1);
    return last?.type === 'bake' ? last.id : undefined;
  }
  /** Hands over a picture, which the server keeps under that letter. */
  made(letter: string): void {
    const file = new TextEncoder().encode(letter) as Uint8Array<ArrayBuffer>;
    const seam = { across: [0, 0], inside: [0, 0] } as const;
    const found = { file, seam, loss: null, milliseconds: 1 };
    this.onmessage!({ data: { type: 'baked', ask: 0, ...found } as unknown as FromTextureMaker });
  }
}

const real = { Worker: globalThis.Worker, fetch: globalThis.fetch };
beforeEach(() => {
  Maker.all = [];
  mock.timers.enable({ apis: ['setTimeout'] });
  globalThis.Worker = Maker as unknown as typeof Worker;
  globalThis.fetch = ((_address: string, { body }: { body: Uint8Array }) =>
    Promise.resolve(Response.json({ sha256: sha(new TextDecoder().decode(body)) }))) as typeof fetch;
});
afterEach(() => {
  mock.timers.reset();
  Object.assign(globalThis, real);
});

const texture = (id: string, more: object = {}): Part =>
  newPart('texture', id, id, {
    ...{ format: 'wicked-veil/texture', version: 1, size: [4, 4], repeats: [true, true], holds: 'numbers' },
    ...{ steps: [], baked: sha('0'), bakedOf: `${id} 1`, ...more },
  } as never);
const reads = newPart('material', 'wall', 'Wall', {
  ...{ format: 'wicked-veil/material', version: 1, shader: 's', values: {} },
  ...{ made: { map: 'plaster' }, pictures: { map: sha('0') } },
} as never);

/** A project of two textures, each made as its number says. */
const open = (more: object = {}) => {
  let parts: ReadonlyMap<string, Part> = new Map(
    [texture('plaster', more), texture('damask'), reads].map((each) => [each.id, each]),
  );
  const digests = new Map([...parts.keys()].map((id) => [id, 1]));
  const put = (changes: readonly PartChange[]): void => {
    ({ parts } = changeParts(parts, changes));
  };
  const all = <K extends 'texture' | 'material'>(kind: K) => partsOf({ parts: [...parts.values()] }, kind);
  const session = {
    get textures() {
      return all('texture');
    },
    get materials() {
      return all('material');
    },
    follow: (changes: readonly PartChange[]) => void (isBusy || put(changes)),
    inTurn: <T>(work: () => T | Promise<T>) => Promise.resolve(work()),
    commit: (_label: string | null, changes: readonly PartChange[]) => Promise.resolve(put(changes)),
  };
  const told: string[] = [];
  let isBusy = false;
  const baking = createBaking(session, {
    know: () => ({ type: 'know', recipes: [], parts: [] }),
    digestOf: (id) => `${id} ${digests.get(id)}`,
    tell: (sentence) => told.push(sentence),
  });
  /** Lets what was begun go on, and nothing change for a while. */
  const quiet = async (): Promise<void> => {
    for (let i = 0; i < 8; i += 1) await new Promise((resolve) => setImmediate(resolve));
    mock.timers.tick(600);
  };
  return {
    ...{ baking, quiet, told },
    saves: (busy: boolean) => (isBusy = busy),
    one: (id: string) => parts.get(id) as PartOf<'texture'>,
    change: (id: string, to: number): void => {
      digests.set(id, to);
      baking.changed();
    },
    picture: () => (parts.get('wall') as PartOf<'material'>).body.pictures!['map'],
    /** A changed plaster that is being baked. */
    under: async (): Promise<void> => {
      baking.changed();
      await quiet();
      digests.set('plaster', 2);
      baking.changed();
      await quiet();
    },
    begin: async () => {
      baking.changed();
      await quiet();
    },
  };
};

test('what is as it was baked is left alone; what is changed is baked once nothing changes any more', async () => {
  const { baking, begin, change, quiet, one, picture } = open();
  await begin();
  assert.equal(Maker.all.length, 0);
  for (const to of [2, 3, 4]) change('plaster', to);
  assert.equal(Maker.all.length, 0);
  await quiet();
  assert.deepEqual([baking.baking, baking.isAsked, Maker.last.baking], ['plaster', false, 'plaster']);
  Maker.last.onmessage!({ data: { type: 'progress', ask: 0, share: 0.25 } });
  assert.equal(baking.progress, 0.25);
  Maker.last.made('a');
  await quiet();
  assert.deepEqual(
    [one('plaster').body.baked, one('plaster').body.bakedOf, picture(), baking.baking],
    [sha('a'), 'plaster 4', sha('a'), null],
  );
  await quiet();
  assert.equal(Maker.last.told.filter(({ type }) => type === 'bake').length, 1);
  baking.close();
});

test('the newest wins: what was begun of an older one is ended, and one after another is baked', async () => {
  const { change, quiet, picture, one, under } = open();
  await under();
  const first = Maker.last;
  change('plaster', 3);
  change('damask', 2);
  await quiet();
  assert.deepEqual([first.isEnded, Maker.all.length, Maker.last.baking], [true, 2, 'plaster']);
  Maker.last.made('b');
  await quiet();
  assert.equal(picture(), sha('b'));
  assert.equal(Maker.last.baking, 'damask');
  // Changed again while it is on its way to the server: that is not what it comes to now.
  Maker.last.made('c');
  change('damask', 3);
  await quiet();
  assert.equal(one('damask').body.baked, sha('0'));
  await quiet();
  Maker.last.made('d');
  await quiet();
  assert.equal(one('damask').body.baked, sha('d'));
});

test('cancelled or refused, it is not begun again before it is another; by hand only, it never is', async () => {
  const { baking, begin, change, quiet, under } = open();
  await under();
  baking.cancel();
  await begin();
  assert.deepEqual([baking.baking, Maker.all.length], [null, 1]);
  change('plaster', 3);
  await quiet();
  Maker.last.onmessage!({ data: { type: 'refused', ask: 0, why: 'There is no picture.' } });
  await begin();
  assert.deepEqual([baking.baking, baking.refusals.get('plaster')], [null, 'There is no picture.']);
  change('plaster', 4);
  await quiet();
  assert.equal(baking.refusals.size, 0);
  Maker.last.onerror!({ message: '', preventDefault: () => undefined });
  await begin();
  assert.match(baking.refusals.get('plaster')!, /it may be too large/);
  assert.equal(baking.baking, null);
  baking.close();

  const other = open({ byHand: true });
  const before = Maker.all.length;
  await other.begin();
  other.change('plaster', 2);
  await other.quiet();
  assert.equal(Maker.all.length, before);
});

test('what comes while it is being saved as a whole is baked again after that', async () => {
  const { quiet, picture, saves, under } = open();
  await under();
  saves(true);
  Maker.last.made('g');
  await quiet();
  assert.equal(picture(), sha('0'));
  saves(false);
  assert.equal(Maker.last.baking, 'plaster');
  Maker.last.made('h');
  await quiet();
  assert.equal(picture(), sha('h'));
});

test('what is asked for is told of, and is one deed', async () => {
  const { baking, one, quiet, picture, told } = open();
  const asked = baking.bake(one('plaster'));
  Maker.last.made('f');
  await asked;
  assert.deepEqual([picture(), told], [sha('f'), ['plaster was baked in 0.0 s.']]);
  const again = baking.bake(one('plaster'));
  Maker.last.onmessage!({ data: { type: 'refused', ask: 0, why: 'There is no picture.' } });
  await again;
  assert.deepEqual(told.slice(1), ['There is no picture.']);
  await quiet();
  assert.equal(baking.baking, null);
});

test('what is asked for goes first, and what was under way is baked after it', async () => {
  const { baking, begin, change, quiet, one, under } = open();
  await under();
  const begun = Maker.last;
  const asked = baking.make(one('damask'), 16);
  assert.deepEqual([begun.isEnded, baking.baking, baking.isAsked], [true, 'damask', true]);
  change('damask', 2);
  await quiet();
  assert.equal(baking.baking, 'damask', 'what was asked for is not ended by a change');
  Maker.last.made('e');
  assert.equal(new TextDecoder().decode((await asked)!.file), 'e');
  await quiet();
  assert.equal(baking.baking, 'plaster');
  const last = Maker.last;
  baking.close();
  assert.ok(last.isEnded);
  await begin();
  assert.equal(baking.baking, null, 'what is closed begins nothing');
});
