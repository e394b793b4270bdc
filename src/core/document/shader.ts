/** An authored argument: a number (or a few, for a vector) that can be dragged, or an expression as text. */
export type Argument = number | readonly number[] | string;

/** One operator applied to what comes from its left. */
export interface Step {
  readonly id: string;
  readonly operator: string;
  readonly arguments: Readonly<Record<string, Argument>>;
  /** A muted step passes on what comes from its left. */
  readonly muted?: boolean;
  readonly note?: string;
}

/** A named value, built left to right by steps. May use only strands above it. */
export interface Strand {
  readonly id: string;
  readonly name: string;
  /** What it is for, in a few words. */
  readonly note: string;
  readonly steps: readonly Step[];
}

export type ParameterKind = 'float' | 'int' | 'bool' | 'vec2' | 'vec3' | 'vec4' | 'color' | 'texture';

/** Numbers, one per component; a texture has none, its picture stands in the material. A colour is linear red, green, blue, and its intensity in stops. */
export type ParameterValue = readonly number[];

export interface Parameter {
  readonly id: string;
  readonly name: string;
  readonly kind: ParameterKind;
  readonly default: ParameterValue;
  /** The useful ends, for every component; a colour's are its stops'. */
  readonly min: number;
  readonly max: number;
  readonly unit: string;
  readonly group: string;
  readonly description: string;
}

export type AlphaMode = 'opaque' | 'cutout' | 'blended' | 'added';

/** How the surface meets the stage. */
export interface SurfaceSettings {
  readonly lit: boolean;
  readonly alphaMode: AlphaMode;
  readonly sides: 'front' | 'back' | 'both';
  readonly depthWrite: boolean;
}

export const OUTPUTS = {
  baseColor: { type: 'vec3', label: 'base colour', start: [0.5, 0.5, 0.5] },
  opacity: { type: 'float', label: 'opacity', start: [1] },
  emission: { type: 'vec3', label: 'emission', start: [0, 0, 0] },
  roughness: { type: 'float', label: 'roughness', start: [0.8] },
  metallic: { type: 'float', label: 'metallic', start: [0] },
  occlusion: { type: 'float', label: 'occlusion', start: [1] },
  vertexOffset: { type: 'vec3', label: 'vertex offset', start: [0, 0, 0] },
} as const;

export type OutputName = keyof typeof OUTPUTS;
export const OUTPUT_NAMES = Object.keys(OUTPUTS) as readonly OutputName[];

export interface Surface extends SurfaceSettings {
  /** An expression for each output that is not left as it starts. */
  readonly outputs: Readonly<Partial<Record<OutputName, string>>>;
}

export const SHADER_VERSION = 1;

export interface ShaderDocument {
  readonly format: 'wicked-veil/shader';
  readonly version: typeof SHADER_VERSION;
  readonly parameters: readonly Parameter[];
  readonly strands: readonly Strand[];
  readonly surface: Surface;
}

export const parameterSize = (kind: ParameterKind): number =>
  ({ float: 1, int: 1, bool: 1, vec2: 2, vec3: 3, vec4: 4, color: 4, texture: 0 })[kind];

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
