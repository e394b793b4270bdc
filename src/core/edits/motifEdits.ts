import { parseExpression } from '../language/parseExpression.ts';
import { namesIn } from '../language/syntax.ts';
import { readCode } from '../lower/code/codeOperator.ts';
import { isInput } from '../program/inputs.ts';
import { componentsOf, type Type } from '../program/types.ts';
import { emptyMotif, type MotifDocument, type MotifInput, type NamedMotif } from '../document/motif.ts';
import type { Parameter, ParameterKind, ShaderDocument, Step, Strand } from '../document/shader.ts';
import { argumentText, EditRefusal } from './foldExpression.ts';
import type { Edit, Patch } from '../document/patch.ts';
import { renameEverywhere, usesOf } from '../document/uses.ts';
import { operatorOf } from '../lower/stepOperator.ts';

/** Names that strands read from outside themselves, in order of appearance. */
const readBy = (strands: readonly Strand[]): string[] => {
  const own = new Set<string>();
  const found = new Set<string>();
  for (const strand of strands) {
    for (const step of strand.steps) {
      const names = Object.values(step.arguments).flatMap((each) => {
        const parsed = typeof each === 'string' ? parseExpression(each).expression : undefined;
        return parsed ? namesIn(parsed).map((name) => name.name) : [];
      });
      const code = step.code === undefined ? undefined : readCode(step.code).code;
      for (const name of [...names, ...(code?.main.free.map((each) => each.name) ?? [])])
        if (!own.has(name) && !isInput(name)) found.add(name);
    }
    own.add(strand.name);
  }
  return [...found];
};

/** What an input of the given type begins as. */
const inputOf = (name: string, type: Type, like: Parameter | undefined, id: string): MotifInput => {
  const kind: ParameterKind =
    type === 'sampler2D' ? (like?.kind ?? 'texture') : type === 'uint' ? 'int' : (type as ParameterKind);
  const simple = like && like.kind === kind ? like : undefined;
  return {
    ...{ id, name, kind },
    default: simple?.default ?? (type === 'sampler2D' ? [] : new Array<number>(componentsOf(type)).fill(0)),
    min: simple?.min ?? 0,
    max: simple?.max ?? 1,
    unit: simple?.unit ?? '',
    group: '',
    description: simple?.description ?? '',
  };
};

export interface FoldedMotif {
  readonly motif: MotifDocument;
  /** What puts the motif in the strands' place, once it is kept under an id. */
  readonly edit: (id: string) => Edit;
}

/**
 * Folds strands into a motif: what they read from outside becomes its inputs, what is read of them outside its outputs.
 * @param typeOf the type of a strand or parameter, as compiled
 * @throws EditRefusal with a sentence where they cannot be folded
 */
export const foldStrands = (
  part: string,
  shader: ShaderDocument,
  ids: ReadonlySet<string>,
  typeOf: (name: string) => Type | null,
  newId: () => string,
): FoldedMotif => {
  const chosen = shader.strands.filter((each) => ids.has(each.id));
  if (!chosen.length) throw new EditRefusal('Choose the strands to fold first.');
  const names = new Set(chosen.map((each) => each.name));
  const rest: ShaderDocument = { ...shader, strands: shader.strands.filter((each) => !ids.has(each.id)) };
  const read = readBy(chosen);
  const noise = shader.parameters.find((each) => each.kind === 'noise' && read.includes(each.name));
  if (noise)
    throw new EditRefusal(
      `${noise.name} is noise, which a motif cannot be given; read ${noise.name}.seed in a strand above first.`,
    );
  const inputs = read.map((name) => {
    const type = typeOf(name);
    if (!type) throw new EditRefusal(`“${name}” has a mistake in it or does not exist; mend that first.`);
    return inputOf(
      name,
      type,
      shader.parameters.find((each) => each.name === name),
      newId(),
    );
  });
  const firstAt = shader.strands.findIndex((each) => ids.has(each.id));
  const late = read.find((name) => shader.strands.findIndex((each) => each.name === name) >= firstAt);
  if (late !== undefined && !names.has(late))
    throw new EditRefusal(`“${late}” stands between the strands chosen; move it above them first.`);
  const used = chosen.filter((each) => usesOf(rest, each.name).length > 0);
  const outputs = used.length ? used : [chosen[chosen.length - 1]!];
  const motif: MotifDocument = {
    ...emptyMotif(),
    description: chosen.map((each) => each.note).find(Boolean) ?? '',
    parameters: inputs,
    strands: chosen,
    outputs: outputs.map((each) => ({ id: newId(), name: each.name, expression: each.name })),
  };
  const edit = (id: string): Edit => {
    const strands = shader.strands.flatMap((strand): Strand[] => {
      if (!ids.has(strand.id)) return [strand];
      if (!outputs.includes(strand)) return [];
      const step: Step = {
        ...{ id: newId(), operator: 'motif', motif: id, output: strand.name },
        arguments: Object.fromEntries(inputs.map((each) => [each.name, each.name])),
      };
      return [{ ...strand, steps: [step] }];
    });
    return {
      label: 'Fold into a motif',
      part,
      patches: [{ op: 'replace', path: ['strands'], value: strands }],
    };
  };
  return { motif, edit };
};

/** True for what an expression cannot carry through a strand: whole numbers, booleans and samplers. */
const goesByText = (kind: ParameterKind): boolean =>
  !['float', 'vec2', 'vec3', 'vec4', 'color'].includes(kind);

/**
 * Writes a motif's strands out in the place of one use of it.
 * @throws EditRefusal where the step is no motif
 */
export const unfoldMotif = (
  part: string,
  shader: ShaderDocument,
  at: { readonly strand: number; readonly step: number },
  motif: NamedMotif,
  newId: () => string,
): Edit => {
  const strand = shader.strands[at.strand]!;
  const step = strand.steps[at.step]!;
  const found = operatorOf(step, new Map([[motif.id, motif]]));
  if (found.kind !== 'motif') throw new EditRefusal('This step is not a motif.');
  const taken = new Set([...shader.strands, ...shader.parameters].map((each) => each.name));
  const free = (wish: string): string => {
    let name = wish;
    for (let n = 2; taken.has(name); n += 1) name = `${wish}${n}`;
    taken.add(name);
    return name;
  };
  let body = { ...motif.body, parameters: [] as readonly Parameter[] };
  const above: Strand[] = [];
  const before = strand.steps.slice(0, at.step);
  for (const input of motif.body.parameters) {
    const given = step.arguments[input.name];
    const fromLeft = given === undefined && input.name === found.signature.flow && before.length > 0;
    const text = argumentText(given, found.signature.inputs[input.name]!);
    if (!fromLeft && (goesByText(input.kind) || /^[A-Za-z_]\w*$/.test(text))) {
      body = renameEverywhere(body, input.name, /^[A-Za-z_]\w*$/.test(text) ? text : `(${text})`);
      continue;
    }
    const name = free(input.name);
    if (name !== input.name) body = renameEverywhere(body, input.name, name);
    const size = { vec2: 2, vec3: 3, vec4: 4, color: 3 }[input.kind as string];
    const steps: Step[] = fromLeft
      ? [...before]
      : [{ id: newId(), operator: 'value', arguments: { x: size ? `vec${size}(${text})` : text } }];
    above.push({ id: newId(), name, note: input.description, steps });
  }
  for (const { name } of motif.body.strands) {
    const fresh = free(name);
    if (fresh !== name) body = renameEverywhere(body, name, fresh);
  }
  const inner = body.strands.map((each) => ({
    ...each,
    id: newId(),
    steps: each.steps.map((one) => ({ ...one, id: newId() })),
  }));
  const output = body.outputs.find((each) => each.name === step.output) ?? body.outputs[0];
  const reader: Step = { id: step.id, operator: 'value', arguments: { x: output?.expression ?? '0.0' } };
  const patches: Patch[] = [
    {
      op: 'replace',
      path: ['strands'],
      value: [
        ...shader.strands.slice(0, at.strand),
        ...above,
        ...inner,
        { ...strand, steps: [reader, ...strand.steps.slice(at.step + 1)] },
        ...shader.strands.slice(at.strand + 1),
      ],
    },
  ];
  return { label: `Unfold ${motif.name}`, part, patches };
};
