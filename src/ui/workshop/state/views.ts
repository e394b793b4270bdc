import type { VIEW_TAPS } from '#core/emit/glsl/fragmentStage.ts';
import type { Judged } from '#stage/stage.ts';

interface ViewRow {
  readonly kind: keyof typeof VIEW_TAPS | Judged;
  readonly name: string;
  /** What its marks mean, told while it is shown. */
  readonly legend?: string;
}

/** Ways to see the whole set, as the view strip and the commands name them. */
export const VIEWS = [
  { kind: 'finished', name: 'finished' },
  { kind: 'normals', name: 'normals' },
  { kind: 'uv', name: 'UV' },
  { kind: 'wireframe', name: 'wire' },
  {
    kind: 'depth',
    name: 'depth',
    legend: 'A line every metre ahead of the camera, nearer is lighter; what writes no depth is not there.',
  },
  { kind: 'sides', name: 'sides', legend: 'Fronts are light, backs dark and hatched.' },
  {
    ...{ kind: 'range', name: 'range' },
    legend: 'Light before exposure: \\ above 1, / below 0, chequered where it is not a number.',
  },
] as const satisfies readonly ViewRow[];

/** What is shown on the stage: the whole set in one of these ways, or one step alone. */
export type Shown =
  | { readonly kind: (typeof VIEWS)[number]['kind'] }
  | { readonly kind: 'tap'; readonly strand: string; readonly step: string };

/** The tabs of the score. */
export const TABS = [
  { tab: 'strands', name: 'Strands' },
  { tab: 'stage', name: 'Stage' },
  { tab: 'script', name: 'Script' },
  { tab: 'plot', name: 'Plot' },
] as const;
export type Tab = (typeof TABS)[number]['tab'];
