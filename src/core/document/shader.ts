/** An authored argument: a number (or a few, for a vector) that can be dragged, or an expression as text. */
export type Argument = number | readonly number[] | string;

/** One operator applied to what comes from its left. */
export interface Step {
  readonly id: string;
  /** An operator's name, or `code` for GLSL of the author's own, or `motif` for a motif of the project. */
  readonly operator: string;
  readonly arguments: Readonly<Record<string, Argument>>;
  /** A muted step passes on what comes from its left. */
  readonly muted?: boolean;
  readonly note?: string;
  /** For `code`: one or more GLSL ES 3.00 functions; the last one's signature gives inputs and output. */
  readonly code?: string;
  /** For `motif`: the motif's part id, and which of its outputs the step is; the first unless said. */
  readonly motif?: string;
  readonly output?: string;
}

/** A named value, built left to right by steps. May use only strands above it. */
export interface Strand {
  readonly id: string;
  readonly name: string;
  /** What it is for, in a few words. */
  readonly note: string;
  readonly steps: readonly Step[];
  /** Shown as one line. */
  readonly collapsed?: boolean;
}

/** What steps are written in: a shader's strands and parameters, or a motif's strands and inputs. */
export interface Score {
  readonly parameters: readonly Parameter[];
  readonly strands: readonly Strand[];
}

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

export interface Parameter {
  readonly id: string;
  readonly name: string;
  readonly kind: ParameterKind;
  readonly default: ParameterValue;
  /** The range for every component; a colour's is its stops', a noise's its seed's. */
  readonly min: number;
  readonly max: number;
  readonly unit: string;
  readonly group: string;
  readonly description: string;
  readonly scope?: ParameterScope;
  /** Where the useful ends are, of a float that is driven from 0 to 1 between them. */
  readonly ends?: readonly [number, number];
}

export type AlphaMode = 'opaque' | 'cutout' | 'blended' | 'added';

/** How the surface meets the stage. */
export interface SurfaceSettings {
  readonly lit: boolean;
  readonly alphaMode: AlphaMode;
  readonly sides: 'front' | 'back' | 'both';
  readonly depthWrite: boolean;
}

/** What a surface can be given, by the stage that writes it, and what each begins as. */
export const OUTPUTS = {
  baseColor: { stage: 'fragment', type: 'vec3', label: 'base colour', start: [0.5, 0.5, 0.5] },
  opacity: { stage: 'fragment', type: 'float', label: 'opacity', start: [1] },
  emission: { stage: 'fragment', type: 'vec3', label: 'emission', start: [0, 0, 0] },
  roughness: { stage: 'fragment', type: 'float', label: 'roughness', start: [0.8] },
  metallic: { stage: 'fragment', type: 'float', label: 'metallic', start: [0] },
  occlusion: { stage: 'fragment', type: 'float', label: 'occlusion', start: [1] },
  normal: { stage: 'fragment', type: 'vec3', label: 'normal', start: [0, 0, 1] },
  vertexOffset: { stage: 'vertex', type: 'vec3', label: 'vertex offset', start: [0, 0, 0] },
} as const;

export type OutputName = keyof typeof OUTPUTS;
export const OUTPUT_NAMES = Object.keys(OUTPUTS) as readonly OutputName[];

export interface Surface extends SurfaceSettings {
  /** An expression for each output that is not left as it starts. */
  readonly outputs: Readonly<Partial<Record<OutputName, string>>>;
}

export const SHADER_VERSION = 2;

export interface ShaderDocument extends Score {
  readonly format: 'wicked-veil/shader';
  readonly version: typeof SHADER_VERSION;
  /** Uniforms of the source it was imported from that go by other names here, and by which. */
  readonly renamed?: Readonly<Record<string, string>>;
  readonly surface: Surface;
}

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

export const emptyShader = (): ShaderDocument => ({
  format: 'wicked-veil/shader',
  version: SHADER_VERSION,
  parameters: [],
  strands: [],
  surface: { lit: true, alphaMode: 'opaque', sides: 'front', depthWrite: true, outputs: {} },
});

/** The whole numbers that noise is in a program: `grain.seed` is `grain_seed`. */
export const NOISE_MEMBERS = ['seed', 'period'] as const;
export const memberName = (parameter: string, member: string): string => `${parameter}_${member}`;
