import { filled } from '../numbers/filled.ts';
import { prepare } from '../evaluate/columns/evaluate.ts';
import { inputsAt, standCorners, type Given, type Standing } from '../evaluate/points/onMesh.ts';
import type { Points } from '../evaluate/points/points.ts';
import { joinedSpots, middleOf, nearestSpot, spotAtUv, type Spots } from '../evaluate/points/spots.ts';
import { minus, plus, type Triple } from '../numbers/vectors.ts';
import { valueAt } from '../program/kernels/column.ts';
import { typeOfParameter as typeOf, type Program, type Value } from '../program/value.ts';
import { lackOf } from './lackOf.ts';

/** What a value is drawn against. A line goes straight through the mesh's own space; what of the mesh is nearest is read. */
export type Against =
  | { readonly kind: 'time' | 'u' | 'v' }
  | { readonly kind: 'parameter'; readonly name: string }
  | { readonly kind: 'line'; readonly to: Triple };

/** What is read of a place itself: where it is in the world, and how far from somewhere. */
export type PlaceReading =
  { readonly kind: 'position' | 'normal' | 'uv' } | { readonly kind: 'distance'; readonly to: Triple };

export interface PlotAsk {
  readonly program: Program;
  /** Numbers of the program's taps, the first 1. */
  readonly taps: readonly number[];
  /** Drawn after the taps. */
  readonly readings?: readonly PlaceReading[];
  readonly against: Against;
  readonly from: number;
  readonly to: number;
  readonly samples: number;
  readonly standing: Standing;
  /** Where on the mesh, in its own space; the middle of its uv where it is not told. */
  readonly at: Triple | null;
  readonly given: Given;
}

/** A step's or a reading's numbers at each sample, or why there are none. */
export type PlotLine =
  { readonly values: readonly (readonly number[])[]; readonly why?: undefined } | { readonly why: string };

export interface Plotted {
  readonly x: readonly number[];
  readonly lines: readonly PlotLine[];
}

const [QUAD, CORNERS] = [4, 3];

const runs = new WeakMap<Value, ReturnType<typeof prepare>>();
/** A plot is drawn anew at every frame; how its steps are computed is worked out once. */
const runOf = (value: Value): ReturnType<typeof prepare> => {
  const run = runs.get(value) ?? prepare([value]);
  runs.set(value, run);
  return run;
};

/** Where each sample is on the mesh: one place for all of them, or one each; null where it has none. */
const placesOf = ({ against, standing: { mesh }, ...ask }: PlotAsk, x: readonly number[]) => {
  const at = ask.at ?? middleOf(mesh);
  const here = nearestSpot(mesh, at);
  if (!here) throw new Error('This mesh has no triangle of any size.');
  const uvHere = [0, 1].map((c) =>
    [0, 1, 2].reduce((sum, k) => sum + here.weights[k]! * mesh.uvs[here.corners[k]! * 2 + c]!, 0),
  );
  switch (against.kind) {
    case 'u':
      return x.map((u) => spotAtUv(mesh, u, uvHere[1]!));
    case 'v':
      return x.map((v) => spotAtUv(mesh, uvHere[0]!, v));
    case 'line': {
      const far = lengthOf(at, against.to) || 1;
      return x.map((along) => nearestSpot(mesh, plus(at, minus(against.to, at), along / far)));
    }
    default:
      return x.map(() => here);
  }
};

/** How long a line is, in metres on the mesh. */
export const lengthOf = (at: Triple, to: Triple): number => Math.hypot(...minus(at, to));

/**
 * Computes steps against something, at a point of a mesh or along it. Where no triangle has a place of uv, there is no
 * number.
 * @throws Error that says why nothing can be drawn
 */
export const plot = (ask: PlotAsk): Plotted => {
  const { program, against, from, to, samples, standing, given } = ask;
  if (!(to > from)) throw new Error('A plot goes from a smaller number to a greater one.');
  if (against.kind === 'parameter' && typeOf(program, against.name) === null)
    throw new Error(`Nothing in this shader reads ${against.name}.`);
  const whole = against.kind === 'parameter' && typeOf(program, against.name) === 'int';
  const x = Array.from({ length: samples }, (_, i) => {
    const at = from + ((to - from) * i) / (samples - 1);
    return whole ? Math.round(at) : at;
  });
  const places = placesOf(ask, x);
  const there = places.flatMap((spot, i) => (spot ? [{ spot, i }] : []));
  if (!there.length) throw new Error('No part of this mesh has these places of uv.');
  const spots: Spots = joinedSpots(there.map(({ spot }) => spot));
  /** The sample’s own number, at each of so many points that it is told of. */
  const ownOf = (each: number): Float32Array =>
    filled(new Float32Array(there.length * each), (k) => x[there[Math.floor(k / each)]!.i]!);
  // A mesh that moves with what it is drawn against stands elsewhere at each sample.
  const corners = standCorners(standing, spots.corners, program.outputs['vertexOffset'], given, {
    ...(against.kind === 'time' ? { time: ownOf(CORNERS) } : {}),
    ...(against.kind === 'parameter' ? { columns: new Map([[against.name, ownOf(CORNERS)]]) } : {}),
  });
  const { count, inputs, quads } = inputsAt(corners, spots, true);
  const own = ownOf(QUAD);
  const points: Points = {
    ...{ ...given, count, quads: quads ?? false },
    inputs: against.kind === 'time' ? { ...inputs, time: own } : inputs,
    ...(against.kind === 'parameter' ? { columns: new Map([[against.name, own]]) } : {}),
  };
  const line = (value: Value): PlotLine => {
    const why = lackOf(value, standing.near !== undefined);
    if (why) return { why };
    try {
      const [column] = runOf(value)(points);
      const values = new Array<readonly number[]>(samples).fill([]);
      there.forEach(({ i }, k) => (values[i] = valueAt(column!, k * QUAD)));
      return { values };
    } catch (error) {
      return { why: `It cannot be computed here: ${(error as Error).message}.` };
    }
  };
  const readingLine = (reading: PlaceReading): PlotLine => {
    const column = inputs[reading.kind === 'distance' ? 'position' : reading.kind]!;
    const values = new Array<readonly number[]>(samples).fill([]);
    there.forEach(({ i }, k) => {
      const numbers = Array.from({ length: column.length / count }, (_, c) => column[c * count + k * QUAD]!);
      values[i] =
        reading.kind === 'distance' ? [Math.hypot(...numbers.map((n, c) => n - reading.to[c]!))] : numbers;
    });
    return { values };
  };
  return {
    x,
    lines: [
      ...ask.taps.map((tap) => line(program.taps[tap - 1]!.value)),
      ...(ask.readings ?? []).map(readingLine),
    ],
  };
};

/** A plot as comma-separated values; what is no number, or has none, is left out between its commas. */
export const plotCsv = ({ x, lines }: Plotted, against: string, names: readonly string[]): string => {
  const columns = lines.flatMap((each, i) => {
    const size = each.why === undefined ? Math.max(...each.values.map((value) => value.length)) : 0;
    return Array.from({ length: size }, (_, c) => ({
      name: size === 1 ? names[i]! : `${names[i]!}.${'xyzw'[c] ?? c}`,
      of: (k: number) => (each.why === undefined ? each.values[k]![c] : undefined),
    }));
  });
  const quoted = (text: string): string => (/[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);
  return [
    [against, ...columns.map(({ name }) => name)].map(quoted).join(),
    ...x.map((at, k) => [at, ...columns.map(({ of }) => (Number.isFinite(of(k)) ? of(k) : ''))].join()),
    '',
  ].join('\n');
};
