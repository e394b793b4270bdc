import type { MaterialDocument, Preset } from '../document/project.ts';
import type { Parameter, ParameterValue } from '../document/shader.ts';
import { valueKey } from '../document/valueKeys.ts';
import type { Edit } from '../document/patch.ts';

/** Sets a parameter's value, in a material or, of a shared parameter, in the shared values. */
export const setValue = (part: string, parameter: Parameter, value: ParameterValue): Edit => ({
  label: `Set ${parameter.name}`,
  part,
  merge: `value ${valueKey(parameter)}`,
  patches: [{ op: 'add', path: ['values', valueKey(parameter)], value }],
});

/** Several values at once: what a rehearsal found and the author keeps. */
export const setValues = (
  part: string,
  values: Iterable<readonly [Parameter, ParameterValue]>,
  label: string,
): Edit => ({
  label,
  part,
  patches: [...values].map(([each, value]) => ({ op: 'add', path: ['values', valueKey(each)], value })),
});

/** Lets textures of a material read other pictures in place of what is made here. */
export const setPictures = (
  part: string,
  material: MaterialDocument,
  chosen: readonly (readonly [Parameter, string])[],
): Edit => {
  const pictures = Object.fromEntries(chosen.map(([{ id }, sha]) => [id, sha]));
  const made = Object.entries(material.made ?? {});
  const isOther = ([id]: readonly [string, unknown]): boolean => !Object.hasOwn(pictures, id);
  const left = made.filter(isOther);
  const sampling = Object.entries(material.sampling ?? {});
  const leftSampling = sampling.filter(isOther);
  return {
    label: `Set ${chosen.map(([{ name }]) => name).join(', ')}`,
    part,
    patches: [
      { op: 'add', path: ['pictures'], value: { ...material.pictures, ...pictures } },
      ...(left.length < made.length
        ? [{ op: 'add' as const, path: ['made'], value: Object.fromEntries(left) }]
        : []),
      ...(leftSampling.length < sampling.length
        ? [{ op: 'add' as const, path: ['sampling'], value: Object.fromEntries(leftSampling) }]
        : []),
    ],
  };
};

/** Lets a texture parameter read another picture. */
export const setPicture = (
  part: string,
  material: MaterialDocument,
  parameter: Parameter,
  sha256: string,
): Edit => setPictures(part, material, [[parameter, sha256]]);

/** Puts a parameter back to its shader's default. */
export const resetValue = (
  part: string,
  { values }: Pick<MaterialDocument, 'values'>,
  parameter: Parameter,
): Edit => ({
  label: `Reset ${parameter.name}`,
  part,
  patches: Object.hasOwn(values, valueKey(parameter))
    ? [{ op: 'remove', path: ['values', valueKey(parameter)] }]
    : [],
});

/** Keeps what a material stands at under a name; one of that name is replaced. */
export const keepPreset = (part: string, material: MaterialDocument, name: string): Edit => {
  const others = (material.presets ?? []).filter((each) => each.name !== name);
  const presets: readonly Preset[] = [...others, { name, values: material.values }];
  return { label: `Keep preset ${name}`, part, patches: [{ op: 'add', path: ['presets'], value: presets }] };
};

/** Takes a preset's values up again. */
export const applyPreset = (part: string, preset: Preset): Edit => ({
  label: `Apply ${preset.name}`,
  part,
  patches: [{ op: 'replace', path: ['values'], value: preset.values }],
});

export const removePreset = (part: string, material: MaterialDocument, name: string): Edit => ({
  label: `Delete preset ${name}`,
  part,
  patches: [
    { op: 'add', path: ['presets'], value: (material.presets ?? []).filter((each) => each.name !== name) },
  ],
});
