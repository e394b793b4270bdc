import { BUDGET_FIGURES, type Budget } from '../document/budgets.ts';
import { guaranteeSentence, type Guarantee } from '../document/guarantees.ts';
import { prepare } from '../evaluate/columns/evaluate.ts';
import { inputsRead } from '../evaluate/points/inputNumbers.ts';
import { componentsOf } from '../program/types.ts';
import { reachable, typeOfParameter, type Value } from '../program/value.ts';
import { lackOf } from '../taps/lackOf.ts';
import { isNothing, isWhole, prepareShown } from '../taps/sweep.ts';
import { boundsOf } from './boundsOf.ts';
import type { Subject } from './scene.ts';
import { shareOf } from './shaderCost.ts';
import { lackWhere, type Worn } from './worn.ts';

/** How a guarantee came out: what was measured, as a figure; null of what cannot be measured here, and why. */
export interface Kept {
  readonly id: string;
  readonly sentence: string;
  readonly holds: boolean | null;
  readonly figure: string;
  /** What else there is to say: with what it does not hold, or why it cannot be told. */
  readonly told: string;
}
type Outcome = Omit<Kept, 'id' | 'sentence'>;

const unknown = (told: string): Outcome => ({ holds: null, figure: '—', told });
const number = (x: number): string => String(Number(x.toFixed(3))).replace('-', '−');
const percent = (x: number): string => `${(100 * x).toFixed(2)} %`;
const on = ({ material }: Worn): string => (material ? ` on ${material.name}` : '');

const valueOf = ({ program }: Subject, strand: string | undefined): Value | null =>
  program.taps.findLast((tap) => tap.strand === strand)?.value ?? null;

const shows = (subject: Subject, { shows: what, parameter: asked, at, strand }: Guarantee): Outcome => {
  const { shader, program, worn } = subject;
  const found = shader.body.parameters.find(({ id }) => id === asked);
  if (asked !== undefined && !found) return unknown('Its parameter is not there any more.');
  const parameter = found?.name;
  const type = parameter === undefined ? 'float' : typeOfParameter(program, parameter);
  if (type === null) return unknown(`No step reads a parameter ${parameter}.`);
  if (componentsOf(type) !== 1) return unknown(`${parameter} is no single number.`);
  const shown = strand === undefined ? program.outputs['opacity'] : valueOf(subject, strand);
  if (shown && lackWhere(worn, shown)) {
    // What the picture alone knows may be anything, and it may hold for all of it.
    const bounds = boundsOf(
      subject,
      [shown],
      parameter === undefined ? undefined : { name: parameter, at: at! },
    );
    const { low, high } = bounds.get(shown)!;
    if (what === 'nothing' ? high <= 0 : low >= 1)
      return { holds: true, figure: percent(what === 'nothing' ? 0 : 1), told: 'Whatever it reads.' };
  }
  const isKept = what === 'nothing' ? isNothing : isWhole;
  let worst: { readonly share: number; readonly on: Worn; readonly holds: boolean } | null = null;
  for (const each of worn) {
    const measured = prepareShown({
      ...{ program, parameter: parameter ?? null, standing: each.standing },
      ...{ given: each.given, strand, coverAlone: true },
    })(at!);
    const { share } = measured;
    const isWorse = !worst || (what === 'nothing' ? share > worst.share : share < worst.share);
    const holds = isKept(measured);
    if (!worst || (worst.holds && !holds) || (worst.holds === holds && isWorse))
      worst = { share, on: each, holds };
  }
  const { share, holds } = worst!;
  return {
    ...{ holds, figure: percent(share) },
    told: holds
      ? ''
      : what === 'nothing'
        ? `${share > 0.00005 ? percent(share) : 'Some'} of it shows${on(worst!.on)}.`
        : `${percent(1 - share)} of it does not show${on(worst!.on)}.`,
  };
};

const within = (subject: Subject, { strand, low, high }: Guarantee): Outcome => {
  const value = valueOf(subject, strand);
  if (!value) return unknown('The strand has no step that works.');
  const extent = subject.measured(value);
  if (!extent) {
    const bounds = boundsOf(subject, [value]).get(value)!;
    if (bounds.low >= low! && bounds.high <= high!)
      return {
        ...{ holds: true, figure: `${number(bounds.low)} … ${number(bounds.high)}` },
        told: 'Whatever it reads.',
      };
    return unknown(lackWhere(subject.worn, value) ?? 'It cannot be computed outside the picture.');
  }
  const room = 1e-5 * Math.max(1, Math.abs(low!), Math.abs(high!));
  const isLow = extent.least < low! - room;
  const isHigh = extent.most > high! + room;
  const told = [
    ...(extent.notNumbers ? [`it is no number ${extent.notNumberWith}`] : []),
    ...(isLow ? [`it is ${number(extent.least)} ${extent.leastWith}`] : []),
    ...(isHigh ? [`it is ${number(extent.most)} ${extent.mostWith}`] : []),
  ].join(', and ');
  return {
    ...{ holds: !told, figure: `${number(extent.least)} … ${number(extent.most)}` },
    told: told && `${told[0]!.toUpperCase()}${told.slice(1)}.`,
  };
};

const numbers = (subject: Subject): Outcome => {
  const { program, measured } = subject;
  const shown = new Set(reachable(Object.values(program.outputs)));
  const values = program.taps.flatMap(({ value }) => (shown.has(value) ? [value] : []));
  let looked = 0;
  let wrong = 0;
  let told = '';
  let left = 0;
  for (const value of new Set(values)) {
    const extent = measured(value);
    if (!extent) {
      left += 1;
      continue;
    }
    looked += extent.looked;
    wrong += extent.notNumbers;
    if (extent.notNumbers && !told) told = `Not a number ${extent.notNumberWith}.`;
  }
  const left_ = left
    ? `${left} ${left === 1 ? 'step reads' : 'steps read'} what only the picture knows.`
    : '';
  if (!looked) return unknown(left_ || 'The surface has no output of its own.');
  return { holds: !wrong, figure: `${wrong} of ${looked}`, told: [told, left_].filter(Boolean).join(' ') };
};

const costs = ({ cost }: Subject, name: string, budgets: readonly Budget[]): Outcome => {
  const budget = budgets.find((each) => each.name === name);
  if (!budget)
    return unknown(`There is no budget “${name}”; there are ${budgets.map((each) => each.name).join(', ')}.`);
  const { figure, share } = shareOf(cost, budget);
  return {
    ...{ holds: share <= 1, figure: `${Math.round(100 * share)} %` },
    told:
      share <= 1
        ? ''
        : `${cost[figure]} ${BUDGET_FIGURES[figure].label}, where there may be ${budget[figure]}.`,
  };
};

/** Places along an edge of uv that are compared with those across. */
const ALONG = 256;
/** A step of an eight-bit picture is not seen. */
const SEAM = 1 / 255;
const tiles = (subject: Subject, { strand }: Guarantee): Outcome => {
  const value = valueOf(subject, strand);
  if (!value) return unknown('The strand has no step that works.');
  const lack = lackOf(value);
  if (lack) return unknown(lack);
  const other = inputsRead([value]).find((name) => !['uv', 'uv2', 'time', 'timeStep'].includes(name));
  if (other) return unknown(`It reads ${other}, which a place of uv does not tell.`);
  if (reachable([value]).some(({ op }) => ['dFdx', 'dFdy', 'fwidth'].includes(op)))
    return unknown('It reads the pixels beside it, of which an edge has none.');
  const run = prepare([value]);
  let worst = 0;
  let at = '';
  for (const worn of subject.worn)
    for (const [way, told] of [
      [0, 'the left and right edges'],
      [1, 'the upper and lower edges'],
    ] as const) {
      const uv = new Float32Array(4 * ALONG);
      for (let i = 0; i < ALONG; i += 1)
        for (const side of [0, 1]) {
          uv[way * 2 * ALONG + side * ALONG + i] = side;
          uv[(1 - way) * 2 * ALONG + side * ALONG + i] = (i + 0.5) / ALONG;
        }
      const { time, timeStep } = worn.standing;
      const [column] = run({
        ...{ count: 2 * ALONG, inputs: { uv, uv2: uv, time: [time], timeStep: [timeStep] } },
        ...worn.given,
      });
      const { data, stride, uniform } = column!;
      if (uniform) continue;
      for (let c = 0; c < componentsOf(value.type); c += 1)
        for (let i = 0; i < ALONG; i += 1) {
          const apart = Math.abs(data[c * stride + i]! - data[c * stride + ALONG + i]!);
          if (!(apart <= worst)) [worst, at] = [apart, `${told}${on(worn)}`];
        }
    }
  return {
    ...{ holds: worst <= SEAM, figure: number(worst) },
    told: worst <= SEAM ? '' : `It is up to ${number(worst)} apart between ${at}.`,
  };
};

const keep = (subject: Subject, guarantee: Guarantee, budgets: readonly Budget[]): Outcome => {
  switch (guarantee.kind) {
    case 'shows':
      return shows(subject, guarantee);
    case 'within':
      return within(subject, guarantee);
    case 'numbers':
      return numbers(subject);
    case 'cost':
      return costs(subject, guarantee.budget!, budgets);
    case 'tiles':
      return tiles(subject, guarantee);
  }
};

/** Measures a shader's guarantees where it is worn: one that does not hold on some prop does not hold. */
export const keepGuarantees = (subject: Subject, budgets: readonly Budget[]): readonly Kept[] =>
  (subject.shader.body.guarantees ?? []).map((guarantee): Kept => {
    const sentence = guaranteeSentence(guarantee, subject.shader.body);
    try {
      return { id: guarantee.id, sentence, ...keep(subject, guarantee, budgets) };
    } catch (error) {
      return { id: guarantee.id, sentence, ...unknown((error as Error).message) };
    }
  });
