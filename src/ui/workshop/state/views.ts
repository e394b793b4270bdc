import { VIEW_TAPS } from '#core/emit/glsl/fragmentStage.ts';
import type { Cut, Judged, View } from '#stage/stage.ts';

interface ViewRow {
  readonly kind: keyof typeof VIEW_TAPS | Exclude<Judged, 'chequer' | 'paid'>;
  readonly name: string;
  /** What its marks mean, told while it is shown. */
  readonly legend?: string;
}

/** Ways to see the whole set, as the view strip and the commands name them. */
export const VIEWS = [
  { kind: 'finished', name: 'finished' },
  { kind: 'normals', name: 'normals' },
  {
    ...{ kind: 'uv', name: 'UV' },
    legend:
      'Fields of a tenth: the first digit is u’s, the second v’s. Red lies where u is whole, green where v is.',
  },
  { kind: 'wireframe', name: 'wire' },
  {
    kind: 'depth',
    name: 'depth',
    legend: 'A line every metre ahead of the camera, nearer is lighter; what writes no depth is not there.',
  },
  {
    ...{ kind: 'field', name: 'field' },
    legend: 'Distances to the surfaces of what is in the field: lightest at a surface, dark inside.',
  },
  { kind: 'sides', name: 'sides', legend: 'Fronts are light, backs dark and hatched.' },
  {
    ...{ kind: 'cost', name: 'cost' },
    legend:
      'What is drawn at each pixel, one over another: a step of grey for each quarter of the budget’s operations, striped above all of it.',
  },
  {
    ...{ kind: 'range', name: 'range' },
    legend: 'Light before exposure: \\ above 1, / below 0, chequered where it is not a number.',
  },
] as const satisfies readonly ViewRow[];

/** What is shown on the stage: the whole set in one of these ways, or one step alone. */
export type Shown =
  | { readonly kind: (typeof VIEWS)[number]['kind'] }
  | { readonly kind: 'tap'; readonly strand: string; readonly step: string };

/**
 * What the stage is told to show.
 * @param tapOf the tap's number in the shader that is drawn; 0 where it has none
 * @param cut the plane on which distances are seen
 * @param costs what each material costs, as a share of the budget
 */
export const stageView = (
  shown: Shown,
  material: string | null,
  tapOf: (strand: string, step: string) => number,
  costs: ReadonlyMap<string, number>,
  cut: Cut,
): View => {
  if (shown.kind === 'tap') return { tap: tapOf(shown.strand, shown.step), judged: null, material };
  if (shown.kind === 'range' || shown.kind === 'depth')
    return { tap: VIEW_TAPS.finished, judged: shown.kind, material: null };
  if (shown.kind === 'field') return { tap: VIEW_TAPS.finished, judged: 'field', material: null, cut };
  if (shown.kind === 'cost') return { tap: VIEW_TAPS.cost, judged: 'paid', material: null, costs };
  return { tap: VIEW_TAPS[shown.kind], judged: shown.kind === 'uv' ? 'chequer' : null, material: null };
};

/** The tabs of the score. */
export const TABS = [
  { tab: 'strands', name: 'Strands' },
  { tab: 'stage', name: 'Stage' },
  { tab: 'cues', name: 'Cues' },
  { tab: 'script', name: 'Script' },
  { tab: 'textures', name: 'Textures' },
  { tab: 'plot', name: 'Plot' },
  { tab: 'checks', name: 'Checks' },
] as const;
export type Tab = (typeof TABS)[number]['tab'];
