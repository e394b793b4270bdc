import type { Accessor, Document } from '@gltf-transform/core';

/** Puts numbers into a glTF, all in one buffer. */
export const accessorsOf = (document: Document) => {
  const buffer = document.createBuffer();
  return (
    type: 'VEC3' | 'VEC2' | 'SCALAR',
    numbers: Float32Array<ArrayBuffer> | Uint16Array<ArrayBuffer>,
  ): Accessor => document.createAccessor().setType(type).setArray(numbers).setBuffer(buffer);
};
