import { newId as freshId } from '../../parts/newId.ts';
import { toast } from 'svelte-sonner';
import { copySteps, copyStrands, paste } from '#core/edits/clipboard.ts';
import { EditRefusal, foldSteps, unfoldStep } from '#core/edits/foldExpression.ts';
import { unfoldMotif } from '#core/edits/motifEdits.ts';
import type { Edit, Patch } from '#core/document/patch.ts';
import { moveStep, placeOfStep } from '#core/edits/shaderEdits.ts';
import { usesOf } from '#core/document/uses.ts';
import type { Step } from '#core/document/shader.ts';
import { parseExpression } from '#core/language/parseExpression.ts';
import { namesIn } from '#core/language/syntax.ts';
import { focusNow, focusStep, focusStop, parameterStop } from './stops.ts';
import type { Session } from '../state/session.svelte.ts';
import type { StepDeed } from '../commands/onCard.ts';

export const newStepId = (): string => `step-${freshId()}`;

/** What was copied last, for where the browser gives no clipboard. */
let clipping = '';

/** The steps a deed is done to: all that are chosen together, or the one it was asked of. */
const stepsMeant = (session: Session, step: string): Step[] => {
  const ids = session.chosen.has(step) ? session.chosen : new Set([step]);
  return session.score!.body.strands.flatMap((strand) => strand.steps.filter((each) => ids.has(each.id)));
};

/** Runs what may be refused, and says why where it is. */
const attempt = (work: () => void): void => {
  try {
    work();
  } catch (error) {
    if (!(error instanceof EditRefusal)) throw error;
    toast.error(error.message);
  }
};

const copy = (session: Session, steps: readonly Step[]): void => {
  const score = session.score!.body;
  const whole = score.strands.filter(
    (strand) => strand.steps.length && strand.steps.every((each) => steps.includes(each)),
  );
  const all = whole.length > 1 && whole.flatMap((strand) => strand.steps).length === steps.length;
  clipping = all ? copyStrands(score, whole) : copySteps(score, steps);
  void navigator.clipboard?.writeText(clipping).catch(() => undefined);
  toast(
    all ? `${whole.length} strands copied` : `${steps.length} step${steps.length === 1 ? '' : 's'} copied`,
  );
};

/** Pastes text after a step, or what was copied last where the browser gives none. */
export const pasteAfter = (session: Session, step: string, text: string): void =>
  attempt(() => {
    const score = session.score!;
    const { strand, step: at } = placeOfStep(score.body, step);
    const { edit, ids } = paste(score.id, score.body, text || clipping, { strand, step: at + 1 }, newStepId);
    session.apply(edit);
    session.chooseAll(ids);
    if (ids[0]) focusNow(ids[0]!);
  });

const removal = (session: Session, steps: readonly Step[], label: string): Edit => {
  const score = session.score!;
  const gone = new Set(steps);
  const patches = score.body.strands.flatMap((strand, i): Patch[] =>
    strand.steps.some((each) => gone.has(each))
      ? [
          {
            op: 'replace',
            path: ['strands', i, 'steps'],
            value: strand.steps.filter((each) => !gone.has(each)),
          },
        ]
      : [],
  );
  return { label, part: score.id, patches };
};

/** Changes steps where they stand, as one edit. */
const change = (session: Session, steps: readonly Step[], label: string, to: (step: Step) => Step): Edit => ({
  label,
  part: session.score!.id,
  patches: steps.map((step) => {
    const at = placeOfStep(session.score!.body, step.id);
    return { op: 'replace', path: ['strands', at.strand, 'steps', at.step], value: to(step) };
  }),
});

const deleteSteps = (session: Session, steps: readonly Step[]): void => {
  const score = session.score!.body;
  const { strand, step } = placeOfStep(score, steps[0]!.id);
  const gone = new Set(steps);
  const left = score.strands[strand]!.steps;
  const neighbour =
    left.slice(0, step).findLast((each) => !gone.has(each)) ?? left.find((each) => !gone.has(each));
  session.apply(
    removal(
      session,
      steps,
      steps.length === 1 ? `Delete ${steps[0]!.operator}` : `Delete ${steps.length} steps`,
    ),
  );
  session.select(neighbour?.id ?? null);
  if (neighbour) focusNow(neighbour.id);
};

/** The strand or parameter a step reads first, and its place. */
const definitionOf = (session: Session, step: Step): string | null => {
  const score = session.score!.body;
  const names = Object.values(step.arguments).flatMap((each) => {
    const parsed = typeof each === 'string' ? parseExpression(each).expression : undefined;
    return parsed ? namesIn(parsed).map((name) => name.name) : [];
  });
  return (
    names.find((name) => [...score.strands, ...score.parameters].some((each) => each.name === name)) ?? null
  );
};

const goToDefinition = (session: Session, step: Step): void => {
  const name = definitionOf(session, step);
  const strand = session.score!.body.strands.find((each) => each.name === name);
  const last = strand?.steps.at(-1);
  if (last) focusStep(last.id);
  else if (name) focusStop(parameterStop(name));
  else toast('This step reads no strand and no parameter.');
};

const showUses = (session: Session, strand: number): void => {
  const score = session.score!.body;
  const { name } = score.strands[strand]!;
  const uses = usesOf(score, name);
  const steps = uses.flatMap((use) => (use.step ? [use.step] : []));
  session.chooseAll(steps);
  if (steps[0]) focusNow(steps[0]!);
  const places = [...new Set(uses.map((use) => use.strand))];
  toast(places.length ? `${name} is used by ${places.join(', ')}.` : `Nothing uses ${name} yet.`);
};

const nudge = (session: Session, step: Step, way: -1 | 1): void => {
  const { id, body } = session.score!;
  const at = placeOfStep(body, step.id);
  const to = at.step + way;
  if (to >= 0 && to < body.strands[at.strand]!.steps.length)
    session.apply(moveStep(id, body, step.id, { strand: at.strand, step: to }));
};

/**
 * Does what a card was asked to, to its step or to all that are chosen with it.
 * @returns true where the card should have the focus back
 */
export const doToStep = (session: Session, step: Step, what: StepDeed): boolean => {
  const score = session.score!;
  const at = placeOfStep(score.body, step.id);
  const strand = score.body.strands[at.strand]!;
  const meant = stepsMeant(session, step.id);
  switch (what) {
    case 'tap': {
      const { shown } = session;
      const same = shown.kind === 'tap' && shown.step === step.id;
      session.show(same ? { kind: 'finished' } : { kind: 'tap', strand: strand.id, step: step.id });
      return false;
    }
    case 'left':
      nudge(session, step, -1);
      return true;
    case 'right':
      nudge(session, step, 1);
      return true;
    case 'duplicate': {
      const copies = meant.map((each) => ({ ...each, id: newStepId() }));
      const last = placeOfStep(score.body, meant.at(-1)!.id);
      session.apply({
        label: copies.length === 1 ? `Duplicate ${step.operator}` : `Duplicate ${copies.length} steps`,
        part: score.id,
        patches: copies.map((value, i) => ({
          op: 'add',
          path: ['strands', last.strand, 'steps', last.step + 1 + i],
          value,
        })),
      });
      return false;
    }
    case 'mute': {
      const muted = !step.muted;
      session.apply(
        change(session, meant, muted ? 'Mute step' : 'Unmute step', (each) => ({ ...each, muted })),
      );
      return true;
    }
    case 'delete':
      deleteSteps(session, meant);
      return false;
    case 'copy':
      copy(session, meant);
      return true;
    case 'cut':
      copy(session, meant);
      deleteSteps(session, meant);
      return false;
    case 'paste':
      void (navigator.clipboard?.readText() ?? Promise.reject(new Error()))
        .catch(() => clipping)
        .then((text) => pasteAfter(session, step.id, text));
      return false;
    case 'fold': {
      const id = newStepId();
      const last = Math.max(...meant.map((each) => strand.steps.indexOf(each)), at.step);
      attempt(() => {
        session.apply(foldSteps(score.id, at.strand, strand, last, id));
        focusNow(id);
      });
      return false;
    }
    case 'unfold':
      attempt(() => {
        session.apply(unfoldStep(score.id, at.strand, strand, newStepId));
        const first = session.score!.body.strands[at.strand]!.steps[0]!.id;
        focusNow(first);
      });
      return false;
    case 'unfold-motif': {
      const motif = session.library.get(step.motif ?? '');
      if (score.kind !== 'shader' || !motif) {
        toast.error(
          motif ? 'A use inside a motif is unfolded where that motif is used.' : 'This step is not a motif.',
        );
        return true;
      }
      attempt(() => session.apply(unfoldMotif(score.id, score.body, at, motif, newStepId)));
      return false;
    }
    case 'definition':
      goToDefinition(session, step);
      return false;
    case 'uses':
      showUses(session, at.strand);
      return false;
    default:
      return true;
  }
};
