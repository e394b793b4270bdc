import type { MaterialDocument, Preset } from '../document/project.ts';
import type { ParameterValue } from '../document/shader.ts';
import type { Edit } from '../document/patch.ts';

export const setValue = (part: string, name: string, value: ParameterValue): Edit => ({
  label: `Set ${name}`,
  part,
  merge: `value ${name}`,
  patches: [{ op: 'add', path: ['values', name], value }],
});

/** Several values at once: what a rehearsal found and the author keeps. */
export const setValues = (
  part: string,
  values: Iterable<readonly [string, ParameterValue]>,
  label: string,
): Edit => ({
  label,
  part,
  patches: [...values].map(([name, value]) => ({ op: 'add', path: ['values', name], value })),
});

/** Lets textures of a material read other pictures, by their names, in place of what is made here. */
export const setPictures = (
  part: string,
  material: MaterialDocument,
  pictures: Readonly<Record<string, string>>,
): Edit => {
  const made = Object.entries(material.made ?? {});
  const isOther = ([name]: readonly [string, unknown]): boolean => !Object.hasOwn(pictures, name);
  const left = made.filter(isOther);
  const sampling = Object.entries(material.sampling ?? {});
  const leftSampling = sampling.filter(isOther);
  return {
    label: `Set ${Object.keys(pictures).join(', ')}`,
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
export const setPicture = (part: string, material: MaterialDocument, name: string, sha256: string): Edit =>
  setPictures(part, material, { [name]: sha256 });

/** Puts a parameter back to its shader's default. */
export const resetValue = (part: string, material: Pick<MaterialDocument, 'values'>, name: string): Edit => ({
  label: `Reset ${name}`,
  part,
  patches: Object.hasOwn(material.values, name) ? [{ op: 'remove', path: ['values', name] }] : [],
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
