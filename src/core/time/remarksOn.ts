import type { CueStart } from '../document/cues.ts';
import type { SetDrive } from '../document/drives.ts';
import type { FlourishLayer } from '../document/flourishes.ts';
import type { StageDocument } from '../document/project.ts';
import { sizesOf } from './feedDrives.ts';
import { curveProblem } from './playFlourishes.ts';
import { misfitOf, slotOf, type ParametersOf } from './slots.ts';

/** What of a set plays, and may be changed while it does. */
export type PlayedSet = Pick<StageDocument, 'cues' | 'choices' | 'drives' | 'flourishes'>;
/** What of a set is rehearsed. */
export type RehearsedSet = Pick<StageDocument, 'props' | 'lights' | 'camera'> & PlayedSet;

/** What of a set plays, and nothing else. */
export const playedOf = ({ cues, choices, drives, flourishes }: PlayedSet): PlayedSet => ({
  ...(cues ? { cues } : {}),
  ...(choices ? { choices } : {}),
  ...(drives ? { drives } : {}),
  ...(flourishes ? { flourishes } : {}),
});

/** Something a set's rules, cues or flourishes cannot do, and where. */
export interface RehearsalRemark {
  readonly of: {
    readonly kind: 'cue' | 'rule' | 'flourish';
    readonly id: string;
    readonly track?: string;
    readonly layer?: string;
    readonly start?: number;
  };
  readonly message: string;
}

/** What of a set's rules, cues and flourishes has nothing to drive or to be on, and why. */
export const remarksOn = (set: RehearsedSet, parametersOf: ParametersOf): RehearsalRemark[] => [
  ...(set.drives ?? []).flatMap((rule): RehearsalRemark[] => {
    const why = whyNot(rule, set, parametersOf);
    return why === null ? [] : [{ of: { kind: 'rule', id: rule.id }, message: why }];
  }),
  ...(set.cues ?? []).flatMap((cue): RehearsalRemark[] => [
    ...startRemarks('cue', cue, set),
    ...cue.tracks.flatMap((track): RehearsalRemark[] => {
      const slot = slotOf(track.target, set, parametersOf);
      const why = 'why' in slot ? slot.why : misfitOf(slot, track.keys[0]?.value.length ?? 0);
      return why === null ? [] : [{ of: { kind: 'cue', id: cue.id, track: track.id }, message: why }];
    }),
  ]),
  ...(set.flourishes ?? []).flatMap((each): RehearsalRemark[] => [
    ...startRemarks('flourish', each, set),
    ...(each.of === undefined || isThere(set, each.of)
      ? []
      : [
          {
            of: { kind: 'flourish' as const, id: each.id },
            message: 'The prop that this was on was deleted: it plays nowhere but where a script puts it.',
          },
        ]),
    ...each.layers.flatMap((layer) =>
      layerProblems(layer, each.layers, set, parametersOf).map((message) => ({
        of: { kind: 'flourish' as const, id: each.id, layer: layer.id },
        message,
      })),
    ),
  ]),
];

const startRemarks = (
  kind: 'cue' | 'flourish',
  { id, starts }: { readonly id: string; readonly starts: readonly CueStart[] },
  set: RehearsedSet,
): RehearsalRemark[] =>
  starts.flatMap((start, i) => {
    const why = startProblem(start, set);
    return why === null ? [] : [{ of: { kind, id, start: i }, message: why }];
  });

/** Why a layer is not drawn, or not as it says; several where there are several reasons. */
const layerProblems = (
  { material, values, ribbon, sprites }: FlourishLayer,
  layers: readonly FlourishLayer[],
  set: RehearsedSet,
  parametersOf: ParametersOf,
): string[] => {
  const parameters = parametersOf(material);
  if (!parameters) return ['The material of this layer was deleted.'];
  const on = sprites?.along;
  return [
    ...values.flatMap(({ parameter, curves }) => {
      const found = parameters.find((each) => each.id === parameter);
      return found
        ? (curveProblem(found, curves.length) ?? [])
        : ['A parameter that this layer drove was deleted.'];
    }),
    ...[ribbon?.from, ribbon?.to].flatMap((end) =>
      end?.of === undefined || isThere(set, end.of)
        ? []
        : ['The prop that an end of this ribbon was on was deleted.'],
    ),
    ...(on === undefined || layers.some((each) => each.id === on && each.kind === 'ribbon')
      ? []
      : ['The ribbon that these sprites sat on was deleted.']),
  ];
};

export const ruleSlot = (rule: SetDrive, set: RehearsedSet, parametersOf: ParametersOf) =>
  slotOf({ kind: 'parameter', of: rule.material, what: rule.parameter }, set, parametersOf);

const isThere = (set: RehearsedSet, what: string): boolean =>
  what === 'pointer' || what === 'walker' || set.props.some((each) => each.id === what);

/** Why nothing would ever start a cue so, or null. */
const startProblem = (start: CueStart, set: RehearsedSet): string | null => {
  switch (start.by) {
    case 'key':
      return start.key ? null : 'It is not told which key starts this.';
    case 'click':
      return start.prop === undefined || isThere(set, start.prop)
        ? null
        : 'The prop whose click starts this was deleted.';
    case 'near':
    case 'away':
      if (start.of === undefined || start.to === undefined)
        return 'It is not told what comes near to what, to start this.';
      return isThere(set, start.of) && isThere(set, start.to)
        ? null
        : 'The prop whose nearness starts this was deleted.';
    case 'cue':
      return set.cues?.some((each) => each.id === start.cue) ? null : 'The cue that starts this was deleted.';
    case 'begin':
      return null;
  }
};

/** Why a rule feeds nothing, or null. */
export const whyNot = (rule: SetDrive, set: RehearsedSet, parametersOf: ParametersOf): string | null => {
  const slot = ruleSlot(rule, set, parametersOf);
  if ('why' in slot) return slot.why;
  const sizes = sizesOf(rule);
  if (!sizes.includes(slot.size))
    return `A ${rule.by} gives ${['no', 'one number', 'one number or two', 'three numbers'][sizes.at(-1)!]!}, and ${slot.name} has ${slot.size}.`;
  for (const end of [rule.of, ...(rule.by === 'distance' || rule.by === 'near' ? [rule.to] : [])]) {
    if (rule.by === 'wave') break;
    if (end === undefined) return 'It is not told what this follows.';
    if (!isThere(set, end)) return 'The prop that this follows was deleted.';
  }
  return null;
};
