import { LONGEST_CUE, MOST_CUES, MOST_TRACKS, type Cue } from '../document/cues.ts';
import { clipSlot } from '../document/targets.ts';
import { newPart, type Part, type PartOf, type Prop } from '../document/project.ts';
import type { PartChange } from './changeParts.ts';
import { freeTitle } from './freeTitle.ts';
import { freePartName } from './partEdits.ts';

/** A piece of a model, once its mesh and its picture are kept. */
export interface KeptPiece {
  readonly name: string;
  readonly blob: string;
  readonly triangles: number;
  readonly color: readonly [number, number, number];
  readonly metallic: number;
  readonly roughness: number;
  readonly picture: string | null;
  /** What moves it, and the names of its nodes; the same for every piece of a model. */
  readonly clips: readonly { readonly name: string; readonly length: number }[];
  readonly joints: readonly string[];
}

/** A cue for each clip of a model: it plays on all its pieces that are moved, from its beginning to its end. */
const cuesOf = (
  stage: PartOf<'stage'>,
  pieces: readonly KeptPiece[],
  props: readonly Prop[],
  newId: () => string,
): Cue[] => {
  const taken = new Set(stage.body.cues?.map((each) => each.name));
  const moved = pieces.flatMap(({ clips }, i) => (clips.length ? [props[i]!] : []));
  const clips = pieces.find((each) => each.clips.length)?.clips ?? [];
  const room = MOST_CUES - (stage.body.cues?.length ?? 0);
  return clips.flatMap(({ name, length }, place): Cue[] => {
    if (!(length > 0) || place >= room) return [];
    const lasts = Math.min(length, LONGEST_CUE);
    const free = freeTitle(name.trim().slice(0, 100) || 'Clip', taken);
    taken.add(free);
    return [
      {
        ...{ id: `cue-${newId()}`, name: free, length: lasts, play: 'looped', again: 'restart', blend: 0 },
        ...{ after: 'hold', weight: 1, priority: 0, starts: [] },
        tracks: moved.slice(0, MOST_TRACKS).map(({ id }) => ({
          ...{ id: `track-${newId()}`, target: { kind: 'prop', of: id, what: clipSlot(place) } },
          keys: [
            { at: 0, value: [0], go: 'straight' },
            { at: lasts, value: [lasts], go: 'straight' },
          ],
        })),
      },
    ];
  });
};

const NAME = 'Imported surface';

/** What imported pieces are of: lit, of a colour and a picture of it. */
const surface = (): PartOf<'shader'>['body'] => {
  const share = (name: string, start: number, description: string) => ({
    ...{ id: `imported-${name}`, name, kind: 'float' as const, default: [start], min: 0, max: 1, unit: '' },
    ...{ group: 'Surface', description },
  });
  return {
    ...{ format: 'wicked-veil/shader', version: 2 },
    parameters: [
      {
        ...{ id: 'imported-tint', name: 'tint', kind: 'color', default: [0.8, 0.8, 0.8, 0], min: -4, max: 4 },
        ...{ unit: 'stops', group: 'Surface', description: 'Its colour, times its picture.' },
      },
      {
        ...{ id: 'imported-map', name: 'colorMap', kind: 'texture', default: [], min: 0, max: 1, unit: '' },
        ...{ group: 'Surface', description: 'Its colour as a picture, in sRGB.' },
      },
      share('pictured', 0, 'How much of the picture shows: 0 where there is none.'),
      share('metal', 0, 'Metal at 1, anything else at 0.'),
      share('rough', 0.8, 'A mirror at 0, dull at 1.'),
    ],
    strands: [
      {
        ...{ id: 'imported-s-seen', name: 'seen', note: 'the picture, as light' },
        steps: [
          { id: 'imported-seen-1', operator: 'value', arguments: { x: 'sample(colorMap, uv).rgb' } },
          { id: 'imported-seen-2', operator: 'srgbToLinear', arguments: {} },
        ],
      },
    ],
    surface: {
      ...{ lit: true, alphaMode: 'opaque', sides: 'both', depthWrite: true },
      outputs: {
        baseColor: 'tint.rgb * mix(vec3(1.0), seen, pictured)',
        metallic: 'metal',
        roughness: 'rough',
      },
    },
  };
};

/**
 * Stands a model on a set: a prop for each of its pieces, each with a material of its own, all of one shader, which is
 * taken again where an earlier model brought it; and a cue for each of its clips.
 */
export const showModel = (
  parts: Iterable<Part>,
  stage: PartOf<'stage'>,
  file: string,
  pieces: readonly KeptPiece[],
  newId: () => string,
): { readonly changes: readonly PartChange[]; readonly props: readonly string[] } => {
  const all = [...parts];
  const body = surface();
  const idOf = (name: string): string => body.parameters.find((each) => each.name === name)!.id;
  const known = all.find(
    (each) => each.kind === 'shader' && JSON.stringify(each.body) === JSON.stringify(body),
  );
  const shader = known?.id ?? `shader-${newId()}`;
  const changes: PartChange[] = known
    ? []
    : [{ op: 'add', part: newPart('shader', shader, freePartName(all, 'shader', NAME), body) }];
  const taken = new Set(stage.body.props.map((each) => each.name));
  const made: Part[] = [];
  const [x, , z] = stage.body.camera.target;
  const props = pieces.map((piece): Prop => {
    const material = newPart(
      'material',
      `material-${newId()}`,
      freePartName([...all, ...made], 'material', piece.name.trim().slice(0, 100) || 'Imported'),
      {
        ...{ format: 'wicked-veil/material', version: 2, shader },
        values: {
          [idOf('tint')]: [...piece.color, 0],
          [idOf('metal')]: [piece.metallic],
          [idOf('rough')]: [piece.roughness],
          [idOf('pictured')]: [piece.picture ? 1 : 0],
        },
        ...(piece.picture ? { pictures: { [idOf('colorMap')]: piece.picture } } : {}),
      },
    );
    made.push(material);
    const name = freeTitle(piece.name.trim().slice(0, 100) || 'Imported', taken);
    taken.add(name);
    return {
      ...{ id: `prop-${newId()}`, name, material: material.id },
      mesh: {
        ...{ kind: 'imported', blob: piece.blob, file: file.slice(0, 200), triangles: piece.triangles },
        ...(piece.clips.length ? { clips: piece.clips } : {}),
        ...(piece.joints.length ? { joints: piece.joints } : {}),
      },
      ...{ position: [x, 0, z], rotation: [0, 0, 0] },
    };
  });
  const cues = cuesOf(stage, pieces, props, newId);
  changes.push(...made.map((part): PartChange => ({ op: 'add', part })), {
    op: 'change',
    id: stage.id,
    patches: [
      { op: 'replace', path: ['props'], value: [...stage.body.props, ...props] },
      ...(cues.length
        ? [{ op: 'add' as const, path: ['cues'], value: [...(stage.body.cues ?? []), ...cues] }]
        : []),
    ],
  });
  return { changes, props: props.map((each) => each.id) };
};
