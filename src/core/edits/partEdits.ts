import { nameProblem } from '../document/nameProblem.ts';
import type { SetThing } from '../document/things.ts';
import { movedToShader } from '../document/valueKeys.ts';
import { setFlourishes } from './flourishEdits.ts';
import { playScripts, setFrame, takeOut } from './stageEdits.ts';
import type { MaterialDocument, Part, PartKind, PartOf } from '../document/project.ts';
import { newPart, setsOf } from '../document/project.ts';
import { shaderNumbers, isTable } from '../document/shader.ts';
import { cardOf, STARTERS, type StarterKind } from '../document/starter.ts';
import { usersOf } from '../document/users.ts';
import type { PartChange } from './changeParts.ts';
import { freeTitle } from './freeTitle.ts';
import type { Patch } from '../document/patch.ts';

/** What an author calls each kind of part. */
export const KIND_WORDS: Readonly<Record<PartKind, string>> = {
  stage: 'set',
  shader: 'shader',
  material: 'material',
  motif: 'motif',
  script: 'script',
  texture: 'texture',
  take: 'take',
  shared: 'shared values',
};

/** A name that no other part of the kind has: the one wished for, or with a number behind it. */
export const freePartName = (parts: Iterable<Part>, kind: PartKind, wish: string): string => {
  const taken = [...parts].filter((each) => each.kind === kind).map((each) => each.name);
  return freeTitle(wish, new Set(taken));
};

/** Parts made together, and the one of them that was asked for. */
export interface Begun {
  readonly id: string;
  readonly name: string;
  readonly changes: readonly PartChange[];
}

/** What a new part can be begun from: what is in hand. */
export interface Around {
  readonly shader: PartOf<'shader'> | null;
  readonly material: PartOf<'material'> | null;
  readonly stage: PartOf<'stage'> | null;
}

/** A prop put at the end of a set’s. */
export const propAdded = (stage: PartOf<'stage'>, prop: ReturnType<typeof cardOf>): Patch => ({
  op: 'add',
  path: ['props', stage.body.props.length],
  value: prop,
});

/** A card of a material beside what stands on a set, so that it is seen at once. */
const shownOn = (stage: PartOf<'stage'> | null, material: string, name: string): PartChange[] => {
  if (!stage) return [];
  const [x, , z] = stage.body.camera.target;
  const card = {
    ...cardOf(`prop-${material}`.slice(0, 64), name, material),
    mesh: { kind: 'plane', size: [1.4, 1.4], divisions: [32, 32] } as const,
    position: [x + 1.2, 0.3, z + 0.9] as const,
    rotation: [0, -18, 0] as const,
  };
  return [{ op: 'change', id: stage.id, patches: [propAdded(stage, card)] }];
};

/** A shader with a material of it and a card that shows it. */
export const showShader = (
  parts: Iterable<Part>,
  name: string,
  body: PartOf<'shader'>['body'],
  stage: PartOf<'stage'> | null,
  newId: () => string,
  look = name,
): Begun & { readonly material: string } => {
  const all = [...parts];
  const [id, material] = [`shader-${newId()}`, `material-${newId()}`];
  const called = freePartName(all, 'shader', name);
  const looks = freePartName(all, 'material', look);
  return {
    ...{ id, material, name: called },
    changes: [
      { op: 'add', part: newPart('shader', id, called, body) },
      { op: 'add', part: newPart('material', material, looks, STARTERS.material(id)) },
      ...shownOn(stage, material, looks),
    ],
  };
};

/**
 * Begins a part of a kind from its starter, with what it takes to be seen.
 * @returns a sentence where it cannot be begun
 */
export const beginPart = (
  kind: StarterKind,
  parts: Iterable<Part>,
  around: Around,
  newId: () => string,
): Begun | string => {
  const all = [...parts];
  const id = `${kind === 'stage' ? 'set' : kind}-${newId()}`;
  const word = KIND_WORDS[kind];
  const wish = `${word[0]!.toUpperCase()}${word.slice(1)}`;
  const name = freePartName(all, kind, kind === 'motif' ? 'motif 1' : wish);
  const begun = (body: Part['body']): Begun => ({
    ...{ id, name },
    changes: [{ op: 'add', part: newPart(kind, id, name, body as never) }],
  });
  switch (kind) {
    case 'shader':
      return showShader(all, name, STARTERS.shader(), around.stage, newId, 'Material');
    case 'material':
      if (!around.shader) return 'A material is of a shader; begin a shader first.';
      return begun(STARTERS.material(around.shader.id));
    case 'motif':
      return begun(STARTERS.motif());
    case 'stage':
      return begun(
        STARTERS.stage(around.material ? [cardOf(`prop-${newId()}`, 'Card', around.material.id)] : []),
      );
    case 'texture':
      return begun(STARTERS.texture());
    case 'script':
      return begun(STARTERS.script(around.material?.name ?? null));
  }
};

/** A copy of a part under a name of its own. */
export const copyOfPart = (parts: Iterable<Part>, part: Part, newId: () => string): Begun => {
  const name = freePartName(parts, part.kind, `${part.name} copy`);
  const id = `${part.kind === 'stage' ? 'set' : part.kind}-${newId()}`;
  return { id, name, changes: [{ op: 'add', part: newPart(part.kind, id, name, part.body as never) }] };
};

const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/** A script with each `material('…')` of one name, or another such word, calling it by another. */
export const renameInScript = (
  source: string,
  from: string,
  to: string,
  word: 'material' | SetThing = 'material',
): string =>
  source.replace(
    new RegExp(`(\\b${word}\\(\\s*)(['"\`])${escaped(from)}\\2(\\s*\\))`, 'g'),
    (_, before: string, quote: string, after: string) =>
      `${before}${quote}${to.replaceAll('\\', '\\\\').replaceAll(quote, `\\${quote}`)}${quote}${after}`,
  );

/**
 * Gives a part another name; scripts that call a material by its name follow.
 * @returns a sentence where it cannot have that name
 */
export const renamePart = (
  parts: Iterable<Part>,
  part: Part,
  wanted: string,
): readonly PartChange[] | string => {
  const name = wanted.trim();
  if (!name) return 'A part needs a name.';
  const wrong = nameProblem(name);
  if (wrong) return `A name should ${wrong}.`;
  const all = [...parts];
  if (all.some((each) => each.kind === part.kind && each.id !== part.id && each.name === name))
    return `There is a ${KIND_WORDS[part.kind]} “${name}” already.`;
  if (name === part.name) return [];
  const followed = all.flatMap((each): PartChange[] => {
    if (part.kind !== 'material' || each.kind !== 'script') return [];
    const source = renameInScript(each.body.source, part.name, name);
    return source === each.body.source
      ? []
      : [{ op: 'change', id: each.id, patches: [{ op: 'replace', path: ['source'], value: source }] }];
  });
  return [{ op: 'change', id: part.id, name, patches: [] }, ...followed];
};

/** What goes with a part that is deleted. */
export interface Deletion {
  readonly changes: readonly PartChange[];
  /** What else is taken out, in words: “the material Ash”, “the prop Card of Proscenium”. */
  readonly with: readonly string[];
}

/**
 * Takes a part out with what has no meaning without it: a shader’s materials, a material’s props and layers, a set’s takes.
 * @returns a sentence where something needs it that cannot be taken out for it
 */
export const deletePart = (parts: Iterable<Part>, part: Part): Deletion | string => {
  const all = [...parts];
  if (part.kind === 'motif' || part.kind === 'texture') {
    const users = usersOf(all, part.id).filter(
      (name) => part.kind === 'motif' || all.some((each) => each.kind === 'texture' && each.name === name),
    );
    if (users.length)
      return `“${part.name}” is used by ${users.join(', ')}; take it out${part.kind === 'motif' ? ' or unfold it' : ''} there first.`;
  }
  const materials = all.filter(
    (each): each is PartOf<'material'> =>
      each.kind === 'material' && (each.id === part.id || each.body.shader === part.id),
  );
  const gone = new Set(materials.map((each) => each.id));
  const told: string[] = materials
    .filter((each) => each.id !== part.id)
    .map((each) => `the material ${each.name}`);
  const changes: PartChange[] = [];
  for (const each of all) {
    if (part.kind !== 'texture' || each.kind !== 'material') continue;
    const made = Object.entries(each.body.made ?? {});
    const left = made.filter(([, id]) => id !== part.id);
    if (left.length === made.length) continue;
    // It goes on reading what the texture was baked to.
    const path = ['made'];
    changes.push({
      ...{ op: 'change', id: each.id },
      patches: [left.length ? { op: 'add', path, value: Object.fromEntries(left) } : { op: 'remove', path }],
    });
  }
  for (const set of all) {
    if (set.kind === 'take' && set.body.set === part.id) {
      changes.push({ op: 'delete', id: set.id });
      told.push(`the take ${set.name}`);
    }
    if (set.kind !== 'stage' || set.id === part.id) continue;
    const { props, frame } = set.body;
    const bare = props.flatMap((prop) => (gone.has(prop.material) ? [prop.id] : []));
    const patches: Patch[] = [];
    if (bare.length) patches.push(...takeOut(set, bare));
    const layers = frame?.filter((each) => !gone.has(each.material));
    if (frame && layers!.length < frame.length) {
      patches.push(setFrame(set, layers!, '').patches[0]!);
      told.push(`what is laid over ${set.name}`);
    }
    const { flourishes } = set.body;
    const showy = flourishes?.map((each) => ({
      ...each,
      layers: each.layers.filter(({ material }) => !gone.has(material)),
    }));
    const fewer = flourishes?.filter(({ layers }, i) => showy![i]!.layers.length < layers.length) ?? [];
    if (fewer.length) {
      const left = showy!.filter(({ id, layers }) => layers.length || !fewer.some((each) => each.id === id));
      patches.push(setFlourishes(set, left, '').patches[0]!);
      for (const { name } of fewer) told.push(`layers of the flourish ${name} of ${set.name}`);
    }
    const { script, alsoPlays = [] } = set.body;
    const played = [...(script === undefined ? [] : [script]), ...alsoPlays];
    if (played.includes(part.id))
      patches.push(
        ...playScripts(
          set,
          played.filter((id) => id !== part.id),
        ).patches,
      );
    for (const prop of set.body.props)
      if (gone.has(prop.material)) told.push(`the prop ${prop.name} of ${set.name}`);
    if (patches.length) changes.push({ op: 'change', id: set.id, patches });
  }
  const others = materials.filter((each) => each.id !== part.id).map((each) => each.id);
  for (const id of [...others, part.id]) changes.push({ op: 'delete', id });
  return { changes, with: told };
};

/**
 * Gives a material another shader. Values move to the parameters of the same names; those without one stay for when the
 * shader is put back.
 */
export const useShader = (
  material: PartOf<'material'>,
  shader: PartOf<'shader'>,
  before: PartOf<'shader'> | null,
): PartChange[] => {
  const moved = movedToShader(material.body, before?.body.parameters ?? [], shader.body.parameters);
  const keys = ['values', 'pictures', 'made', 'sampling', 'presets'] as const;
  return [
    {
      ...{ op: 'change', id: material.id },
      patches: [
        { op: 'replace', path: ['shader'], value: shader.id },
        ...keys.flatMap((key): Patch[] =>
          JSON.stringify(moved[key]) === JSON.stringify(material.body[key])
            ? []
            : [{ op: 'replace', path: [key], value: moved[key] }],
        ),
      ],
    },
  ];
};

/** Makes what a material stands at the shader’s defaults, so that whoever says nothing stands there too. */
export const makeDefaults = (material: PartOf<'material'>, shader: PartOf<'shader'>): PartChange[] => {
  const { values }: Pick<MaterialDocument, 'values'> = material.body;
  const own = shader.body.parameters.flatMap((parameter, at) =>
    parameter.scope !== 'shared' && parameter.kind !== 'texture' && Object.hasOwn(values, parameter.id)
      ? [{ parameter, at, value: values[parameter.id]! }]
      : [],
  );
  const fitting = own.filter(
    ({ parameter, value }) =>
      isTable(parameter.kind) ||
      shaderNumbers(parameter.kind, value).length === shaderNumbers(parameter.kind, parameter.default).length,
  );
  if (!fitting.length) return [];
  const left = Object.fromEntries(
    Object.entries(values).filter(([id]) => !fitting.some(({ parameter }) => parameter.id === id)),
  );
  return [
    {
      ...{ op: 'change', id: shader.id },
      patches: fitting.map(({ at, value }) => ({
        ...{ op: 'replace', path: ['parameters', at, 'default'], value },
      })),
    },
    { op: 'change', id: material.id, patches: [{ op: 'replace', path: ['values'], value: left }] },
  ];
};

/** Moves a set one place earlier or later in the order of sets; nothing where it stands at that end. */
export const moveSet = (parts: Iterable<Part>, set: PartOf<'stage'>, way: -1 | 1): PartChange[] => {
  const sets = setsOf({ parts: [...parts] });
  const at = sets.findIndex((each) => each.id === set.id);
  const other = sets[at + way];
  if (!other) return [];
  const moved = sets.map((each) => (each.id === set.id ? other : each.id === other.id ? sets[at]! : each));
  return moved.flatMap((each, order): PartChange[] =>
    each.body.order === order
      ? []
      : [{ op: 'change', id: each.id, patches: [{ op: 'add', path: ['order'], value: order }] }],
  );
};
