import type { VIEW_TAPS } from '#core/emit/glsl/fragmentStage.ts';

/** Ways to see the whole set, as the view strip and the commands name them. */
export const VIEWS = [
  { kind: 'finished', name: 'finished' },
  { kind: 'normals', name: 'normals' },
  { kind: 'uv', name: 'UV' },
  { kind: 'wireframe', name: 'wireframe' },
] as const satisfies readonly { readonly kind: keyof typeof VIEW_TAPS; readonly name: string }[];

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
