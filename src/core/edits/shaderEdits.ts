import type { Argument, OutputName, Parameter, Step, Strand, SurfaceSettings } from '../document/shader.ts';
import { findStep } from '../document/findStep.ts';
import type { Edit } from '../document/patch.ts';
import { renameUses, usesOf, type Readable } from '../document/uses.ts';

export { usesOf };

/** A step's place in a shader. */
export interface StepPlace {
  readonly strand: number;
  readonly step: number;
}

/** Finds a step by its id. @throws Error when the shader has no such step */
export const placeOfStep = (shader: Readable, id: string): StepPlace => {
  const found = findStep(shader, id);
  if (!found) throw new Error(`The shader has no step ${id}.`);
  return { strand: found.strand, step: found.step };
};

const stepPath = ({ strand, step }: StepPlace) => ['strands', strand, 'steps', step] as const;

export const setArgument = (
  part: string,
  shader: Readable,
  step: string,
  name: string,
  value: Argument,
): Edit => ({
  label: `Change ${name}`,
  part,
  merge: `${step}.${name}`,
  patches: [{ op: 'add', path: [...stepPath(placeOfStep(shader, step)), 'arguments', name], value }],
});

export const addStep = (part: string, at: StepPlace, step: Step): Edit => ({
  label: `Add ${step.operator}`,
  part,
  patches: [{ op: 'add', path: stepPath(at), value: step }],
});

export const removeStep = (part: string, shader: Readable, id: string): Edit => {
  const at = placeOfStep(shader, id);
  return {
    label: `Delete ${shader.strands[at.strand]!.steps[at.step]!.operator}`,
    part,
    patches: [{ op: 'remove', path: stepPath(at) }],
  };
};

/** Moves a step to stand at `to`, counted as if it had been taken out first. */
export const moveStep = (part: string, shader: Readable, id: string, to: StepPlace): Edit => {
  const from = placeOfStep(shader, id);
  const step = shader.strands[from.strand]!.steps[from.step]!;
  return {
    label: `Move ${step.operator}`,
    part,
    patches: [
      { op: 'remove', path: stepPath(from) },
      { op: 'add', path: stepPath(to), value: step },
    ],
  };
};

export const replaceStep = (part: string, shader: Readable, step: Step, label: string): Edit => ({
  label,
  part,
  patches: [{ op: 'replace', path: stepPath(placeOfStep(shader, step.id)), value: step }],
});

export const addStrand = (part: string, at: number, strand: Strand): Edit => ({
  label: `Add strand ${strand.name}`,
  part,
  patches: [{ op: 'add', path: ['strands', at], value: strand }],
});

export const removeStrand = (part: string, shader: Readable, at: number): Edit => ({
  label: `Delete strand ${shader.strands[at]!.name}`,
  part,
  patches: [{ op: 'remove', path: ['strands', at] }],
});

export const moveStrand = (part: string, shader: Readable, from: number, to: number): Edit => ({
  label: `Move strand ${shader.strands[from]!.name}`,
  part,
  patches: [
    { op: 'remove', path: ['strands', from] },
    { op: 'add', path: ['strands', to], value: shader.strands[from]! },
  ],
});

export const noteStrand = (part: string, at: number, note: string): Edit => ({
  label: 'Change note',
  part,
  merge: `note ${at}`,
  patches: [{ op: 'replace', path: ['strands', at, 'note'], value: note }],
});

export const setOutput = (part: string, name: OutputName, expression: string): Edit => ({
  label: `Change ${name}`,
  part,
  merge: `output ${name}`,
  patches: [{ op: 'add', path: ['surface', 'outputs', name], value: expression }],
});

export const clearOutput = (part: string, name: OutputName): Edit => ({
  label: `Clear ${name}`,
  part,
  patches: [{ op: 'remove', path: ['surface', 'outputs', name] }],
});

export const setSurface = <K extends keyof SurfaceSettings>(
  part: string,
  key: K,
  value: SurfaceSettings[K],
): Edit => ({
  label: 'Change surface',
  part,
  patches: [{ op: 'replace', path: ['surface', key], value }],
});

/** Adds a parameter and, where it replaces an authored number, lets the argument read it. */
export const exposeParameter = (
  part: string,
  shader: Readable,
  parameter: Parameter,
  from?: { readonly step: string; readonly argument: string },
): Edit => ({
  label: `Expose ${parameter.name}`,
  part,
  patches: [
    { op: 'add', path: ['parameters', shader.parameters.length], value: parameter },
    ...(from ? setArgument(part, shader, from.step, from.argument, parameter.name).patches : []),
  ],
});

export const changeParameter = (part: string, shader: Readable, parameter: Parameter): Edit => {
  const at = shader.parameters.findIndex((each) => each.id === parameter.id);
  const before = shader.parameters[at]!;
  return {
    label: `Change ${parameter.name}`,
    part,
    patches: [
      { op: 'replace', path: ['parameters', at], value: parameter },
      ...(before.name === parameter.name ? [] : renameUses(shader, before.name, parameter.name)),
    ],
  };
};

export const removeParameter = (part: string, shader: Readable, id: string): Edit => {
  const at = shader.parameters.findIndex((each) => each.id === id);
  return {
    label: `Delete ${shader.parameters[at]!.name}`,
    part,
    patches: [{ op: 'remove', path: ['parameters', at] }],
  };
};

export const renameStrand = (part: string, shader: Readable, at: number, name: string): Edit => ({
  label: `Rename ${shader.strands[at]!.name}`,
  part,
  patches: [
    { op: 'replace', path: ['strands', at, 'name'], value: name },
    ...renameUses(shader, shader.strands[at]!.name, name),
  ],
});
