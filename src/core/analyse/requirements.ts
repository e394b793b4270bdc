import { declarationOf, type InputName, type Requirement } from '../program/inputs.ts';
import { reachable, writtenBy, type Program } from '../program/value.ts';

/** What a program asks of whoever draws it: scene depth, a copy of the scene, and the like. */
export const requirementsOf = (program: Program): readonly Requirement[] => {
  const found = new Set<Requirement>();
  for (const value of reachable([...writtenBy(program, 'vertex'), ...writtenBy(program, 'fragment')])) {
    const requires = value.op === 'input' ? declarationOf(value.payload as InputName).requires : undefined;
    if (requires) found.add(requires);
    if (value.op === 'textureLod' && value.inputs[0]!.payload === 'sceneColorMap') found.add('sceneLevels');
  }
  return [...found];
};
