import type { MaterialDocument } from '../project.ts';
import type { ParameterValue } from '../shader.ts';
import type { Edit } from './patch.ts';

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

/** Lets a texture parameter read another picture. */
export const setPicture = (part: string, material: MaterialDocument, name: string, sha256: string): Edit => ({
  label: `Set ${name}`,
  part,
  patches: [{ op: 'add', path: ['pictures'], value: { ...material.pictures, [name]: sha256 } }],
});

/** Puts a parameter back to its shader's default. */
export const resetValue = (part: string, material: MaterialDocument, name: string): Edit => ({
  label: `Reset ${name}`,
  part,
  patches: Object.hasOwn(material.values, name) ? [{ op: 'remove', path: ['values', name] }] : [],
});
