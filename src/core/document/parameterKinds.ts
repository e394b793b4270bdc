export const PARAMETER_KINDS = [
  ...(['float', 'int', 'bool', 'vec2', 'vec3', 'vec4', 'color', 'texture'] as const),
  ...(['curve', 'gradient', 'noise'] as const),
] as const;
export type ParameterKind = (typeof PARAMETER_KINDS)[number];

/**
 * Numbers, one per component. A texture has none, its picture stands in the material. A colour is linear red, green,
 * blue, and its intensity in stops; noise a seed and a period; a curve four for each key (x, y, slopes before and
 * after); a gradient four for each stop (where, and linear red, green and blue).
 */
export type ParameterValue = readonly number[];

/**
 * Whose value it is: each material's own, one for every shader in the project that names it, or one of an effect's
 * lifetime, packed four to a vector.
 */
export type ParameterScope = 'material' | 'shared' | 'lifetime';
export const PARAMETER_SCOPES: readonly ParameterScope[] = ['material', 'shared', 'lifetime'];

const SIZES: Readonly<Record<ParameterKind, number>> = {
  ...{ float: 1, int: 1, bool: 1, vec2: 2, vec3: 3, vec4: 4, color: 4, texture: 0 },
  ...{ noise: 2, curve: -1, gradient: -1 },
};

/** How many numbers a value of the kind holds, or −1 where that is the author's choice. */
export const parameterSize = (kind: ParameterKind): number => SIZES[kind];

/** True for what is kept as a row of samples: a curve or a gradient. */
export const isTable = (kind: ParameterKind): kind is 'curve' | 'gradient' =>
  kind === 'curve' || kind === 'gradient';

/** What a value begins as. */
export const startOf = (kind: ParameterKind): ParameterValue => {
  switch (kind) {
    case 'curve':
      return [0, 0, 1, 1, 1, 1, 1, 1];
    case 'gradient':
      return [0, 0, 0, 0, 1, 1, 1, 1];
    case 'color':
      return [1, 1, 1, 0];
    default:
      return new Array<number>(parameterSize(kind)).fill(0);
  }
};

/** What a parameter's numbers are in a shader: a colour becomes linear RGB, brightened by its stops. */
export const shaderNumbers = (kind: ParameterKind, value: ParameterValue): number[] =>
  kind === 'color' ? value.slice(0, 3).map((c) => c * 2 ** (value[3] ?? 0)) : [...value];

/** The whole numbers that noise is in a program: `grain.seed` is `grain_seed`. */
export const NOISE_MEMBERS = ['seed', 'period'] as const;
export const memberName = (parameter: string, member: string): string => `${parameter}_${member}`;
