import { shaderCost } from '#core/analyse/shaderCost.ts';
import { compileShader, type CompiledShader } from '#core/compileShader.ts';
import { applyPatches, type Edit } from '#core/document/patch.ts';
import type { PartOf } from '#core/document/project.ts';
import type { Parameter, ParameterValue, Step } from '#core/document/shader.ts';
import { applyPreset } from '#core/edits/materialEdits.ts';
import { replaceStep, setArgument } from '#core/edits/shaderEdits.ts';
import { operatorOf } from '#core/lower/stepOperator.ts';
import { formatNumber } from '#core/numbers/format.ts';
import { OPERATORS } from '#core/operators/catalogue.ts';
import type { Look } from '../../parts/drawSet.ts';
import type { Session } from '../state/session.svelte.ts';

/** What a contact sheet goes through. */
export type Over =
  | {
      readonly kind: 'parameter';
      readonly first: string;
      readonly second: string | null;
      readonly count: number;
    }
  | { readonly kind: 'presets' }
  | { readonly kind: 'choice'; readonly step: string; readonly input: string }
  | { readonly kind: 'operator'; readonly step: string };

/** One picture of the sheet. */
export interface Cell {
  readonly label: string;
  /** The material in hand as it looks there; a sentence where it does not work. */
  readonly look: Look | string;
  /** What it comes to: operations, and texture reads. */
  readonly cost: string;
  /** Values to take, or the edit that makes it so. */
  readonly take:
    { readonly values: readonly (readonly [Parameter, ParameterValue])[] } | { readonly edit: Edit };
}

/** Parameters of one number: what a sheet can go through. */
export const sheetParameters = (shader: PartOf<'shader'>): readonly Parameter[] =>
  shader.body.parameters.filter(({ kind }) => kind === 'float' || kind === 'int');

/** Values from one end of a parameter's range to the other, whole ones each once. */
export const valuesOver = ({ kind, min, max }: Parameter, count: number): readonly number[] => {
  const along = Array.from({ length: count }, (_, i) => min + ((max - min) * i) / Math.max(count - 1, 1));
  return kind === 'int' ? [...new Set(along.map(Math.round))] : along.map((x) => Number(x.toPrecision(6)));
};

const stepOf = (shader: PartOf<'shader'>, id: string): Step | null =>
  shader.body.strands.flatMap(({ steps }) => steps).find((each) => each.id === id) ?? null;

/** Choices that a step of the shader makes, each with the words it may be. */
export const choicesIn = (
  session: Session,
  shader: PartOf<'shader'>,
): readonly { readonly step: string; readonly input: string; readonly word: string }[] =>
  shader.body.strands.flatMap(({ name, steps }) =>
    steps.flatMap((step) => {
      const found = operatorOf(step, session.library);
      if (found.kind === 'unknown') return [];
      return Object.entries(found.signature.inputs).flatMap(([input, { options }]) =>
        options ? [{ step: step.id, input, word: `${input} of ${step.operator} in ${name}` }] : [],
      );
    }),
  );

/** Operators of the same family that take what comes from the left, as a step's own does. */
const othersLike = (step: Step): readonly string[] => {
  const own = OPERATORS.get(step.operator);
  if (!own) return [];
  return [...OPERATORS.values()]
    .filter(({ family, flow }) => family === own.family && (flow === null) === (own.flow === null))
    .map(({ name }) => name);
};

const costWords = ({ program, knobs }: Pick<CompiledShader, 'program' | 'knobs'>): string => {
  const { operations, textureReads } = shaderCost(program, knobs);
  return `${operations} op${textureReads ? ` · ${textureReads} read${textureReads === 1 ? '' : 's'}` : ''}`;
};

/** Makes the cells one after another, so that who draws them can stop, and the page is never held. */
export function* cellsOver(session: Session, now: Look, over: Over): Generator<Cell> {
  const { shader, material } = session;
  if (!shader || !material) return;
  const knobsNow = { program: now.shader.program, knobs: now.knobs };
  const withValues = (values: readonly (readonly [Parameter, ParameterValue])[]): Look => ({
    ...now,
    driven: new Map([
      ...(now.driven ?? []),
      ...values.map(([{ name }, value]) => [name, { value }] as const),
    ]),
  });
  /** As another document has it. */
  const variant = (label: string, edit: Edit): Cell => {
    const body = applyPatches(shader.body, edit.patches).document;
    const { shader: made, diagnostics } = compileShader(body, shader.name, session.library);
    return {
      ...{ label, take: { edit } },
      look: made
        ? { ...now, shader: made, knobs: made.knobs, settings: body.surface }
        : (diagnostics[0]?.message ?? 'It does not work.'),
      cost: made ? costWords(made) : '',
    };
  };
  switch (over.kind) {
    case 'parameter': {
      const cost = costWords(knobsNow);
      const [first, second] = [over.first, over.second].map((name) =>
        shader.body.parameters.find((each) => each.name === name),
      );
      if (!first) return;
      const told = ({ name, unit }: Parameter, x: number): string => `${name} ${formatNumber(x)}${unit}`;
      for (const y of second ? valuesOver(second, over.count) : [null])
        for (const x of valuesOver(first, second ? over.count : over.count ** 2)) {
          const values = [[first, [x]] as const, ...(second && y !== null ? [[second, [y]] as const] : [])];
          yield {
            label: values.map(([each, [value]]) => told(each, value!)).join(' · '),
            ...{ look: withValues(values), cost, take: { values } },
          };
        }
      return;
    }
    case 'presets': {
      const cost = costWords(knobsNow);
      for (const preset of material.body.presets ?? [])
        yield {
          label: preset.name,
          look: { ...now, authored: session.authored(preset.values), driven: new Map() },
          ...{ cost, take: { edit: applyPreset(material.id, preset) } },
        };
      return;
    }
    case 'choice': {
      const step = stepOf(shader, over.step);
      const found = step && operatorOf(step, session.library);
      if (!step || !found || found.kind === 'unknown') return;
      for (const word of found.signature.inputs[over.input]?.options ?? [])
        yield variant(word, setArgument(shader.id, shader.body, step.id, over.input, word));
      return;
    }
    case 'operator': {
      const step = stepOf(shader, over.step);
      if (!step) return;
      for (const operator of othersLike(step)) {
        const inputs = OPERATORS.get(operator)!.inputs;
        // What both take is kept.
        const kept = Object.fromEntries(Object.entries(step.arguments).filter(([name]) => name in inputs));
        yield variant(
          operator,
          replaceStep(shader.id, shader.body, { ...step, operator, arguments: kept }, `Make it ${operator}`),
        );
      }
    }
  }
}
