import { answeredIn, findAll } from '#core/analyse/findAll.ts';
import { findInMotif, lookIntoMotif } from '#core/analyse/findInMotif.ts';
import { keepGuarantees, type Kept } from '#core/analyse/guarantees.ts';
import { givenBy, lookInto } from '#core/analyse/lookInto.ts';
import type { Finding, Subject } from '#core/analyse/scene.ts';
import type { ShaderCost } from '#core/analyse/shaderCost.ts';
import { standingIn } from '#core/analyse/standing.ts';
import type { Worn } from '#core/analyse/worn.ts';
import type { Budget } from '#core/document/budgets.ts';
import type { Library, NamedMotif } from '#core/document/motif.ts';
import type { PartOf } from '#core/document/project.ts';
import type { ParameterValue } from '#core/document/shader.ts';
import type { Picture } from '#core/evaluate/points/points.ts';
import type { Mesh } from '#core/meshes/mesh.ts';
import type { Volume } from '#core/meshes/volume.ts';
import { keysIn, thingsIn, usesIn } from '#script/usesIn.ts';

/** A shader on a prop; meshes and pictures by the numbers they were brought under. */
export interface WornHere {
  readonly material: string;
  readonly prop: string;
  /** Only of a mesh that its recipe does not make. */
  readonly mesh: number | null;
  readonly pictures: readonly (readonly [name: string, picture: number])[];
  /** What stands near, where it asks for that: volumes by their numbers, and the way into their spaces. */
  readonly near?: readonly (readonly [volume: number, toMesh: readonly number[]])[] | undefined;
}
export interface CheckAsk {
  readonly version: number;
  /** Those that are worn on the set, and the one in hand. `key`: another one means that it is to be looked at anew. */
  readonly shaders: readonly {
    readonly part: PartOf<'shader'>;
    readonly key: string;
    readonly worn: readonly WornHere[];
  }[];
  readonly motifs: readonly NamedMotif[];
  /** The one that is open, which is looked at by itself; `key` as of a shader. */
  readonly open: { readonly motif: string; readonly key: string } | null;
  readonly materials: readonly PartOf<'material'>[];
  readonly textures: readonly PartOf<'texture'>[];
  readonly shared: Readonly<Record<string, ParameterValue>>;
  readonly set: PartOf<'stage'> | null;
  readonly scripts: readonly PartOf<'script'>[];
  /** Those that play in the set, by id. */
  readonly played: readonly string[];
  readonly budgets: readonly Budget[];
  readonly budget: string;
}
type Thing = Mesh | Picture | Volume;
export type ToChecker =
  | { readonly type: 'bring'; readonly id: number; readonly thing: Thing }
  | { readonly type: 'look'; readonly ask: CheckAsk }
  /** What was brought and looked into is of a project that is left. */
  | { readonly type: 'forget' };
export type FromChecker = { readonly version: number } & (
  | { readonly type: 'costs'; readonly costs: readonly (readonly [shader: string, cost: ShaderCost])[] }
  | {
      readonly type: 'found';
      readonly found: readonly (Finding & { readonly answeredIn: string })[];
      readonly kept: readonly (readonly [shader: string, kept: readonly Kept[]])[];
    }
  | { readonly type: 'broken'; readonly why: string }
);

const brought = new Map<number, Thing>();
/** What was looked into, as long as nothing of it is another. */
const known = new Map<string, { readonly key: string; readonly subject: Subject | null }>();
const answer = (message: FromChecker): void => self.postMessage(message);

const wornFor = (ask: CheckAsk, part: PartOf<'shader'>, list: readonly WornHere[]): Worn[] =>
  list.flatMap(({ material: id, prop: propId, mesh, pictures, near: told }): Worn[] => {
    const material = ask.materials.find((each) => each.id === id);
    const prop = ask.set?.body.props.find((each) => each.id === propId);
    const standing = ask.set && standingIn(ask.set.body, propId);
    if (!material || !prop || !standing) return [];
    const given = givenBy(part.body.parameters, material.body.values, ask.shared);
    const near = told?.map(([volume, toMesh]) => ({ volume: brought.get(volume) as Volume, toMesh }));
    const read = pictures.map(([name, number]) => [name, brought.get(number) as Picture] as const);
    return [
      {
        material: { id, name: material.name },
        prop: { id: propId, name: prop.name },
        standing: {
          ...standing,
          ...(mesh === null ? {} : { mesh: brought.get(mesh) as Mesh }),
          ...(near && { near }),
        },
        given: { ...given, pictures: new Map([...given.pictures!, ...read]) },
      },
    ];
  });

const findInOpen = (ask: CheckAsk, library: Library, budget: Budget) => {
  const motif = ask.open && library.get(ask.open.motif);
  if (!ask.open || !motif) return [];
  if (known.get(motif.id)?.key !== ask.open.key)
    known.set(motif.id, { key: ask.open.key, subject: lookIntoMotif(motif, library) });
  const subject = known.get(motif.id)?.subject;
  return subject
    ? findInMotif(motif, subject, budget).map((each) => ({ ...each, answeredIn: each.part }))
    : [];
};

const look = (ask: CheckAsk): void => {
  const { version, shaders, materials, textures, set, scripts, budgets } = ask;
  const library = new Map(ask.motifs.map((each) => [each.id, each]));
  for (const { part, key, worn } of shaders)
    if (known.get(part.id)?.key !== key)
      known.set(part.id, { key, subject: lookInto(part, library, wornFor(ask, part, worn)) });
  const subjects = shaders.flatMap(({ part }): Subject[] => {
    const subject = known.get(part.id)?.subject;
    // What an author answers or promises changes nothing that was measured.
    return subject ? [{ ...subject, shader: part }] : [];
  });
  answer({ type: 'costs', version, costs: subjects.map(({ shader, cost }) => [shader.id, cost]) });
  const uses = scripts.map((part) => ({
    ...{ part, uses: usesIn(part.body.source), things: thingsIn(part.body.source) },
    keys: keysIn(part.body.source),
  }));
  const scene = {
    ...{ subjects, set, materials, textures, shaders: shaders.map(({ part }) => part) },
    scripts: ask.played.flatMap((id) => uses.find(({ part }) => part.id === id) ?? []),
    scripted: new Set(uses.flatMap((each) => each.uses.flatMap(({ parameter }) => parameter ?? []))),
    budget: budgets.find(({ name }) => name === ask.budget) ?? budgets[0]!,
  };
  answer({
    ...{ type: 'found', version },
    found: [
      ...findInOpen(ask, library, scene.budget),
      ...findAll(scene).map((each) => ({ ...each, answeredIn: answeredIn(scene, each.part) })),
    ],
    kept: subjects.map((subject) => [subject.shader.id, keepGuarantees(subject, budgets)]),
  });
};

self.onmessage = ({ data }: MessageEvent<ToChecker>) => {
  if (data.type === 'bring') {
    brought.set(data.id, data.thing);
    return;
  }
  if (data.type === 'forget') {
    brought.clear();
    known.clear();
    return;
  }
  try {
    look(data.ask);
  } catch (error) {
    answer({ type: 'broken', version: data.ask.version, why: (error as Error).message });
  }
};
