/** The first lines of every stage. */
export const HEADER: readonly string[] = [
  '#version 300 es',
  'precision highp float;',
  'precision highp int;',
  'precision highp sampler2D;',
];
