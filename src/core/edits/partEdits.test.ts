import assert from 'node:assert/strict';
import test from 'node:test';
import { playhouse } from '#demo/playhouse.ts';
import { setsOf, type Part, type PartOf } from '../document/project.ts';
import { scriptsPlayed } from '../document/scriptsPlayed.ts';
import { renameThing, scriptsSharedBy } from './renameThing.ts';
import { changeParts, partOfChange, type PartChange } from './changeParts.ts';
import {
  beginPart,
  copyOfPart,
  deletePart,
  makeDefaults,
  moveSet,
  renameInScript,
  renamePart,
} from './partEdits.ts';

const parts = playhouse().parts.map((each) => ({ ...each, revision: 1 }) as Part);
const byId = new Map(parts.map((each) => [each.id, each]));
const part = (id: string) => byId.get(id)!;
let count = 0;
const newId = () => `n${(count += 1)}`;

/** Does changes and takes them back, which has to lead to where it began. @returns the parts between */
const done = (changes: readonly PartChange[]): ReadonlyMap<string, Part> => {
  const { parts: now, back } = changeParts(byId, changes);
  const undone = changeParts(now, back).parts;
  assert.deepEqual(new Map([...undone].sort()), new Map([...byId].sort()));
  return now;
};

test('every kind begins by itself, under a name of its own, with what it takes to be seen', () => {
  const around = {
    shader: part('stage-boards') as PartOf<'shader'>,
    material: part('boards-downstage') as PartOf<'material'>,
    stage: part('proscenium') as PartOf<'stage'>,
  };
  const begin = (kind: Parameters<typeof beginPart>[0]) => {
    const begun = beginPart(kind, parts, around, newId);
    assert.ok(typeof begun !== 'string');
    return { ...begun, now: done(begun.changes) };
  };
  const shader = begin('shader');
  const [, material, set] = shader.changes;
  assert.ok(
    material?.op === 'add' && material.part.kind === 'material' && material.part.body.shader === shader.id,
  );
  const props = (shader.now.get('proscenium') as PartOf<'stage'>).body.props;
  assert.equal(set?.op, 'change');
  assert.equal(props.at(-1)!.material, material.part.id);
  const second = begin('material');
  assert.equal((second.now.get(second.id) as PartOf<'material'>).body.shader, 'stage-boards');
  const stage = begin('stage');
  assert.equal((stage.now.get(stage.id) as PartOf<'stage'>).body.props[0]!.material, 'boards-downstage');
  const script = begin('script');
  assert.match(
    (script.now.get(script.id) as PartOf<'script'>).body.source,
    /material\('Boards, downstage'\)/,
  );
  assert.equal(begin('motif').name, 'motif 1');
  assert.match(
    beginPart('material', parts, { shader: null, material: null, stage: null }, newId) as string,
    /begin a shader first/,
  );
  const copy = copyOfPart(parts, part('proscenium'), newId);
  assert.equal(copy.name, 'Proscenium copy');
  assert.deepEqual(done(copy.changes).get(copy.id)!.body, part('proscenium').body);
});

test('a name is free and can be said; scripts that call a material by it follow', () => {
  const velvet = part('velvet-house-left');
  assert.match(
    renamePart(parts, velvet, 'Arches, upstage') as string,
    /There is a material “Arches, upstage” already/,
  );
  assert.match(renamePart(parts, velvet, '  ') as string, /needs a name/);
  assert.deepEqual(renamePart(parts, velvet, 'Velvet, house left'), []);
  const now = done(renamePart(parts, velvet, "Tattered 'silk'") as readonly PartChange[]);
  assert.equal(now.get(velvet.id)!.name, "Tattered 'silk'");
  const { source } = (now.get('curtain') as PartOf<'script'>).body;
  assert.ok(source.includes("material('Tattered \\'silk\\'')"), source);
  assert.equal(
    renameInScript('material("A b") + material( `A b` ) + other("A b") + material("A bc")', 'A b', 'C'),
    'material("C") + material( `C` ) + other("A b") + material("A bc")',
  );
  assert.equal(
    renameInScript("prop('Bell').hidden = cue('Bell').isPlaying && material('Bell')", 'Bell', 'Gong', 'prop'),
    "prop('Gong').hidden = cue('Bell').isPlaying && material('Bell')",
  );
});

test('a thing’s new name is followed in scripts; one that plays in another set asks, and takes that set along or is copied', () => {
  const [script] = parts.filter((each): each is PartOf<'script'> => each.kind === 'script');
  const source = "prop('Bell').hidden = true;";
  const setOf = (id: string, names: readonly string[]) => {
    const stage = parts.find((each): each is PartOf<'stage'> => each.kind === 'stage')!;
    const props = names.map((name) => ({ ...stage.body.props[0]!, id: `${id}-${name}`, name }));
    return { ...stage, id, name: id, body: { ...stage.body, script: 'toll', props } } as PartOf<'stage'>;
  };
  const toll = { ...script!, id: 'toll', name: 'Toll', body: { ...script!.body, source } };
  const [loft, pit, bare] = [setOf('loft', ['Bell']), setOf('pit', ['Bell']), setOf('bare', [])];
  const all = [toll, loft, pit, bare];
  const edit = {
    label: '',
    part: 'loft',
    patches: [{ op: 'replace', path: ['props', 0, 'name'], value: 'Gong' }],
  } as const;
  const rename = { set: 'loft', word: 'prop', from: 'Bell', to: 'Gong', edit } as const;
  assert.deepEqual(scriptsSharedBy(all, rename), [{ script: 'Toll', sets: ['pit'] }]);
  assert.deepEqual(scriptsSharedBy([toll, loft, bare], rename), []);
  const after = (how: 'rename' | 'copy') => {
    const changes = renameThing(all, rename, how, () => 'new');
    assert.ok(typeof changes !== 'string', String(changes));
    assert.equal(new Set(changes.map(partOfChange)).size, changes.length, 'one change a part');
    const now = changeParts(new Map(all.map((each) => [each.id, each])), changes).parts;
    return ['loft', 'pit'].map((id) => {
      const { body } = now.get(id) as PartOf<'stage'>;
      const played = scriptsPlayed(now.values(), body);
      return [
        body.props[0]!.name,
        played[0]!.body.source.includes(`'${body.props[0]!.name}'`),
        played[0]!.id,
      ];
    });
  };
  assert.deepEqual(after('rename'), [
    ['Gong', true, 'toll'],
    ['Gong', true, 'toll'],
  ]);
  assert.deepEqual(after('copy'), [
    ['Gong', true, 'script-new'],
    ['Bell', true, 'toll'],
  ]);
  const taken = [toll, loft, setOf('pit', ['Bell', 'Gong'])];
  assert.match(renameThing(taken, rename, 'rename', () => 'new') as string, /pit has a prop “Gong” already/);
});

test('what is deleted takes with it what means nothing without it, and is refused where it cannot', () => {
  const boards = deletePart(parts, part('stage-boards'));
  assert.ok(typeof boards !== 'string');
  assert.equal(boards.with[0], 'the material Boards, downstage');
  assert.ok(
    boards.with.includes('the prop Boards of Proscenium') && boards.with.includes('the prop Floor of Scrim'),
  );
  const now = done(boards.changes);
  assert.ok(!now.has('stage-boards') && !now.has('boards-downstage'));
  assert.ok(
    setsOf({ parts: [...now.values()] }).every(({ body }) =>
      body.props.every((each) => each.material !== 'boards-downstage'),
    ),
  );
  assert.equal((now.get('proscenium') as PartOf<'stage'>).body.props.length, 3);
  assert.match(
    deletePart(parts, part('near-and-far')) as string,
    /“Near and far” is used by Stage boards, Painted backdrop, Painted hills, Hung marionette; take it out/,
  );
  // Layers go with their material, and a flourish with its last.
  const sparks = deletePart(parts, part('struck-spark'));
  assert.ok(typeof sparks !== 'string');
  assert.ok(sparks.with.includes('layers of the flourish spray of Bell swing'));
  const bell = done(sparks.changes).get('struck-bell') as PartOf<'stage'>;
  assert.deepEqual(
    bell.body.flourishes!.map(({ name, layers }) => [name, layers.length]),
    [['sweep', 3]],
  );
  const playing = new Map(byId);
  const set = part('proscenium') as PartOf<'stage'>;
  playing.set(set.id, { ...set, body: { ...set.body, script: 'curtain' } });
  const script = deletePart([...playing.values()], part('curtain'));
  assert.ok(typeof script !== 'string');
  assert.equal(
    (changeParts(playing, script.changes).parts.get(set.id) as PartOf<'stage'>).body.script,
    undefined,
  );
});

test('a material’s values become its shader’s defaults, shared and unknown ones left alone', () => {
  const shader = part('curtain-burn-away') as PartOf<'shader'>;
  const velvet = part('velvet-house-left') as PartOf<'material'>;
  const idOf = (name: string) => shader.body.parameters.find((each) => each.name === name)!.id;
  const material = {
    ...velvet,
    body: { ...velvet.body, values: { [idOf('burn')]: [0.46], nothing: [3], [idOf('speed')]: [0.5] } },
  };
  const changes = makeDefaults(material, shader);
  const now = changeParts(new Map(byId).set(material.id, material), changes).parts;
  const after = now.get(shader.id) as PartOf<'shader'>;
  const standing = (name: string) => after.body.parameters.find((each) => each.name === name)!.default;
  assert.deepEqual([standing('burn'), standing('speed')], [[0.46], [0.5]]);
  assert.deepEqual((now.get(material.id) as PartOf<'material'>).body.values, { nothing: [3] });
  assert.deepEqual(makeDefaults({ ...velvet, body: { ...velvet.body, values: {} } }, shader), []);
});

test('a set is moved among the sets, as far as it goes', () => {
  const second = part('rolling-boards') as PartOf<'stage'>;
  const orders = (changes: readonly PartChange[]) =>
    setsOf({ parts: [...done(changes).values()] })
      .slice(0, 3)
      .map((each) => each.id);
  assert.deepEqual(orders(moveSet(parts, second, -1)), ['rolling-boards', 'proscenium', 'far-hills']);
  assert.deepEqual(orders(moveSet(parts, second, 1)), ['proscenium', 'far-hills', 'rolling-boards']);
  assert.deepEqual(moveSet(parts, part('proscenium') as PartOf<'stage'>, -1), []);
});
