import type { Edit, Patch } from '../document/patch.ts';
import { keptPlace, parentsOf } from '../document/parents.ts';
import { playing } from '../document/scriptsPlayed.ts';
import { freeTitle } from './freeTitle.ts';
import type { FrameLayer, Light, PartOf, Pin, Reference, Prop } from '../document/project.ts';

type StageSet = PartOf<'stage'>;

/** Says which scripts play in a set, in the order in which they hear of a tick. */
export const playScripts = (set: StageSet, scripts: readonly string[]): Edit => {
  const next = playing(scripts);
  return {
    label: 'Choose what scripts play',
    part: set.id,
    patches: (['script', 'alsoPlays'] as const).flatMap((field): Patch[] => {
      const value = next[field];
      if (value !== undefined) return [{ op: 'add', path: [field], value }];
      return set.body[field] === undefined ? [] : [{ op: 'remove', path: [field] }];
    }),
  };
};

/** A name that no other prop of a set has. */
export const freePropName = (set: StageSet, wish: string): string =>
  freeTitle(wish, new Set(set.body.props.map((each) => each.name)));

export const addProp = (set: StageSet, prop: Prop): Edit => ({
  label: `Add ${prop.name}`,
  part: set.id,
  patches: [{ op: 'add', path: ['props', set.body.props.length], value: prop }],
});

/**
 * Changes some props of a set.
 * @param merge joins a run of changes, such as a drag, to one that is undone at once
 */
export const changeProps = (
  set: StageSet,
  ids: readonly string[],
  label: string,
  change: (prop: Prop) => Prop,
  merge?: string,
): Edit => ({
  ...{ label, part: set.id },
  ...(merge === undefined ? {} : { merge: `${merge} ${ids.join(' ')}` }),
  patches: set.body.props.flatMap((prop, i): Patch[] => {
    const changed = ids.includes(prop.id) ? change(prop) : prop;
    return changed === prop ? [] : [{ op: 'replace', path: ['props', i], value: changed }];
  }),
});

type Joint = NonNullable<Prop['joint']>;

/** A prop on a parent, on a joint of it, or in the world, where it stands now; a size of one is not written where none was. */
const onParent = (props: readonly Prop[], prop: Prop, parent: string | undefined, joint?: Joint): Prop => {
  const { parent: _, joint: __, ...rest } = prop;
  const { position, rotation, scale } = keptPlace(props, prop.id, parent, joint);
  return {
    ...{ ...rest, position, rotation },
    ...(prop.scale || scale.some((x) => x !== 1) ? { scale } : {}),
    ...(parent === undefined ? {} : { parent }),
    ...(parent === undefined || !joint ? {} : { joint }),
  };
};

/** Whether props may stand on another: not on themselves, and not on what stands on them. */
export const mayStandOn = (set: StageSet, ids: readonly string[], parent: string): boolean =>
  !ids.includes(parent) && !parentsOf(set.body.props, parent).some((each) => ids.includes(each));

/** Puts props on another, on a joint of it, or into the world, each where it stands now. What would stand on itself stays. */
export const setParent = (
  set: StageSet,
  ids: readonly string[],
  parent: string | undefined,
  joint?: Joint,
): Edit => {
  const moved = ids.filter((each) => parent === undefined || mayStandOn(set, [each], parent));
  const carrier = set.body.props.find((each) => each.id === parent)?.name;
  const name = carrier && joint ? `${joint.name} of ${carrier}` : carrier;
  return changeProps(set, moved, name === undefined ? 'Put into the world' : `Put on ${name}`, (prop) =>
    prop.parent === parent && prop.joint?.name === joint?.name
      ? prop
      : onParent(set.body.props, prop, parent, joint),
  );
};

/** Props without some of them; the others keep their order, and what stood on those stays where it is. */
export const withoutProps = (props: readonly Prop[], ids: readonly string[]): readonly Prop[] =>
  props.flatMap((each): Prop[] => {
    if (ids.includes(each.id)) return [];
    if (each.parent === undefined || !ids.includes(each.parent)) return [each];
    const left = parentsOf(props, each.id).find((parent) => !ids.includes(parent));
    return [onParent(props, each, left)];
  });

/** Takes props out, and the pins on them. */
export const takeOut = (set: StageSet, ids: readonly string[]): readonly Patch[] => {
  const { pins } = set.body;
  const left = pins?.filter((each) => !ids.includes(each.prop));
  return [
    { op: 'replace', path: ['props'], value: withoutProps(set.body.props, ids) },
    ...(pins && left!.length < pins.length ? setPins(set, left!, '').patches : []),
  ];
};

/** Takes props out. */
export const removeProps = (set: StageSet, ids: readonly string[]): Edit => {
  const gone = set.body.props.filter((each) => ids.includes(each.id));
  return {
    label: gone.length === 1 ? `Delete ${gone[0]!.name}` : `Delete ${gone.length} props`,
    part: set.id,
    patches: takeOut(set, ids),
  };
};

/** How far a copy stands from what it was made from, so that both are seen. */
const BESIDE: readonly [number, number, number] = [0.3, 0, 0.3];

/** Copies of props, each right behind its own in the list and a little beside it on the stage; on each other as these are. */
export const duplicateProps = (
  set: StageSet,
  ids: readonly string[],
  newId: () => string,
): { readonly edit: Edit; readonly made: readonly string[] } => {
  const made: string[] = [];
  const taken = new Set(set.body.props.map((each) => each.name));
  const copies = new Map(ids.map((id) => [id, `prop-${newId()}`]));
  const props = set.body.props.flatMap((prop): Prop[] => {
    const id = copies.get(prop.id);
    if (id === undefined) return [prop];
    made.push(id);
    const name = freeTitle(prop.name, taken);
    taken.add(name);
    const parent = copies.get(prop.parent ?? '');
    if (parent !== undefined) return [prop, { ...prop, id, name, parent }];
    const [x, y, z] = prop.position;
    return [prop, { ...prop, id, name, position: [x + BESIDE[0], y + BESIDE[1], z + BESIDE[2]] }];
  });
  const label = made.length === 1 ? 'Duplicate prop' : `Duplicate ${made.length} props`;
  return { made, edit: { label, part: set.id, patches: [{ op: 'replace', path: ['props'], value: props }] } };
};

/** Changes a list of a set; nothing is written where nothing is left in it. */
export const setList = <
  K extends 'pins' | 'references' | 'frame' | 'cues' | 'choices' | 'drives' | 'flourishes',
>(
  set: StageSet,
  field: K,
  list: NonNullable<StageSet['body'][K]>,
  label: string,
  merge?: string,
): Edit => ({
  ...{ label, part: set.id },
  ...(merge === undefined ? {} : { merge }),
  patches: list.length
    ? [{ op: 'add', path: [field], value: list }]
    : set.body[field]
      ? [{ op: 'remove', path: [field] }]
      : [],
});

/** Changes the pins of a set. */
export const setPins = (set: StageSet, pins: readonly Pin[], label: string, merge?: string): Edit =>
  setList(set, 'pins', pins, label, merge);

/** Changes the pictures that are looked at beside a set. */
export const setReferences = (
  set: StageSet,
  references: readonly Reference[],
  label: string,
  merge?: string,
): Edit => setList(set, 'references', references, label, merge);

/** Changes what is laid over the whole frame. */
export const setFrame = (set: StageSet, frame: readonly FrameLayer[], label: string): Edit =>
  setList(set, 'frame', frame, label);

/** Lights a set can have: as many as a lit surface reckons with. */
export const MOST_LIGHTS = 4;

export const addLight = (set: StageSet): Edit => ({
  label: 'Add a light',
  part: set.id,
  patches: [
    {
      ...{ op: 'add', path: ['lights', set.body.lights.length] },
      value: { kind: 'point', position: [0, 2, 1], color: [1, 1, 1], intensity: 2 } satisfies Light,
    },
  ],
});

export const changeLight = (set: StageSet, at: number, change: Partial<Light>, merge?: string): Edit => ({
  ...{ label: 'Change light', part: set.id },
  ...(merge === undefined ? {} : { merge: `light ${at} ${merge}` }),
  patches: [{ op: 'replace', path: ['lights', at], value: { ...set.body.lights[at]!, ...change } }],
});

/** Lets the first light throw a shadow, so soft, or none. */
export const setShadow = (set: StageSet, shadow: number | null): Edit => {
  const { shadow: _, ...light } = set.body.lights[0]!;
  return {
    ...{ label: shadow === null ? 'No shadow' : 'Change the shadow', part: set.id, merge: 'shadow' },
    patches: [{ op: 'replace', path: ['lights', 0], value: shadow === null ? light : { ...light, shadow } }],
  };
};

export const removeLight = (set: StageSet, at: number): Edit => ({
  label: 'Delete light',
  part: set.id,
  patches: [{ op: 'remove', path: ['lights', at] }],
});

/** Chooses how a set’s light becomes what is displayed. */
export const setToneMapping = (part: string, value: NonNullable<StageSet['body']['toneMapping']>): Edit => ({
  label: 'Choose the tone mapping',
  part,
  patches: [{ op: 'add', path: ['toneMapping'], value }],
});

/** Sets one field of a set as a whole: its camera, its exposure, its light from above, the air in it. */
export const setStage = <
  K extends 'ambientUp' | 'ambientDown' | 'environment' | 'camera' | 'bloom' | 'exposure' | 'air',
>(
  part: string,
  field: K,
  value: NonNullable<StageSet['body'][K]>,
  label: string,
): Edit => ({
  ...{ label, part, merge: `set ${field}` },
  patches: [{ op: 'add', path: [field], value }],
});

/** Lights a set from above and below again, in place of by a picture. */
export const clearEnvironment = (part: string): Edit => ({
  ...{ label: 'Take the surroundings away', part },
  patches: [{ op: 'remove', path: ['environment'] }],
});

/** Takes the air out of a set. */
export const clearAir = (part: string): Edit => ({
  ...{ label: 'Clear the air', part },
  patches: [{ op: 'remove', path: ['air'] }],
});
