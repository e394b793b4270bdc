import { OUTPUTS, type OutputName, type SurfaceSettings } from '../document/shader.ts';
import type { EntryPoint, OutputDeclaration } from '../program/value.ts';

const declare = (name: OutputName): OutputDeclaration => ({
  name,
  type: OUTPUTS[name].type,
  // A surface is as its mesh turns it until its author says otherwise.
  start: name === 'normal' ? 'normal' : OUTPUTS[name].start,
});

/** What the stages of a surface write: what its settings have no use for is left out. */
export const entryPoints = ({ lit, alphaMode }: SurfaceSettings): readonly EntryPoint[] => {
  const pixel: readonly OutputName[] = [
    'baseColor',
    ...(alphaMode === 'opaque' ? [] : (['opacity'] as const)),
    'emission',
    ...(lit ? (['metallic', 'roughness', 'occlusion', 'normal'] as const) : []),
  ];
  return [
    { stage: 'vertex', outputs: [declare('vertexOffset')] },
    { stage: 'fragment', outputs: pixel.map(declare), shading: { lit, alphaMode } },
  ];
};
