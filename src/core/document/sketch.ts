import {
  emptyShader,
  type Argument,
  type Parameter,
  type ShaderDocument,
  type Step,
  type Strand,
  type SurfaceSettings,
} from './shader.ts';

/** Steps as `[operator, arguments]`, or the whole of a step where it is more. */
export type SketchedStep =
  readonly [operator: string, given?: Readonly<Record<string, Argument>>] | Omit<Step, 'id'>;

const isPair = (each: SketchedStep): each is readonly [string, Readonly<Record<string, Argument>>?] =>
  Array.isArray(each);

/** Strands given as `name: [step, …]`; a step's id is the strand's name and its place, a strand's `s-` and its name. */
export const sketchStrands = (strands: Readonly<Record<string, readonly SketchedStep[]>>): Strand[] =>
  Object.entries(strands).map(([name, steps]) => ({
    id: `s-${name}`,
    name,
    note: '',
    steps: steps.map((each, i) => {
      const id = `${name}-${i}`;
      return isPair(each) ? { id, operator: each[0], arguments: each[1] ?? {} } : { id, ...each };
    }),
  }));

/** A shader from a few words: for tests, figures and examples. */
export const sketchShader = (
  strands: Readonly<Record<string, readonly SketchedStep[]>>,
  outputs: ShaderDocument['surface']['outputs'] = {},
  parameters: readonly Parameter[] = [],
  settings: Partial<SurfaceSettings> = {},
): ShaderDocument => ({
  ...emptyShader(),
  parameters,
  strands: sketchStrands(strands),
  surface: { ...emptyShader().surface, ...settings, outputs },
});

/** A parameter with nothing but its name, kind and default. */
export const sketchParameter = (
  name: string,
  kind: Parameter['kind'],
  start: readonly number[],
  more: Partial<Parameter> = {},
): Parameter => ({
  ...{ id: `p-${name}`, name, kind, default: start, min: 0, max: 1 },
  ...{ unit: '', group: '', description: '' },
  ...more,
});
