import type { MaterialDocument, Preset } from '../document/project.ts';
import {
  isTable,
  memberName,
  NOISE_MEMBERS,
  parameterSize,
  shaderNumbers,
  type Parameter,
  type ParameterScope,
  type ParameterValue,
  type ShaderDocument,
} from '../document/shader.ts';
import { packLifetime } from '../emit/glsl/packLifetime.ts';
import { TABLE_SIZE } from '../numbers/curve.ts';
import { REQUIREMENTS, type Requirement } from '../program/inputs.ts';
import { parameterType } from '../lower/lowerShader.ts';
import { requirementsOf } from '../analyse/requirements.ts';
import type { Program } from '../program/value.ts';
import { numbersFor } from '../time/values.ts';

/** What a game must know to drive a shader: every parameter's name, type, range and meaning. */
export interface Contract {
  readonly format: 'wicked-veil/contract';
  readonly version: 2;
  readonly shader: string;
  readonly surface: {
    readonly lit: boolean;
    readonly alphaMode: string;
    readonly doubleSided: boolean;
    readonly depthWrite: boolean;
  };
  readonly parameters: readonly ContractParameter[];
  /** Vectors that the parameters of a lifetime are packed in, as `uniform vec4 lifetime[n]`. */
  readonly lifetimeVectors: number;
  /** Values of each material made from the shader, as its uniforms take them. */
  readonly materials: readonly {
    readonly name: string;
    readonly uniforms: Readonly<Record<string, readonly number[]>>;
    /** The SHA-256 of the picture that each texture reads. */
    readonly pictures: Readonly<Record<string, string>>;
    readonly presets: readonly Preset[];
  }[];
  /** Uniforms of the source it was imported from that go by other names now, and by which: set these instead. */
  readonly renamed: Readonly<Record<string, string>>;
  /** What whoever draws must give beside the parameters: uniforms and attributes. */
  readonly builtIn: readonly string[];
  /** What whoever draws must do for it, and what that is. */
  readonly requires: Readonly<Partial<Record<Requirement, string>>>;
}

export interface ContractParameter {
  readonly name: string;
  readonly kind: string;
  readonly scope: ParameterScope;
  /** The uniform's GLSL type. */
  readonly uniform: string;
  /** The uniforms it is, where it is more than one or called otherwise: noise, and what is packed. */
  readonly uniforms: readonly string[];
  readonly min: number;
  readonly max: number;
  /** Driven from 0 to 1, the shader works between these. */
  readonly ends: readonly [number, number] | null;
  /** Samples in the row that a curve or a gradient is kept in; null for the rest. */
  readonly samples: number | null;
  readonly unit: string;
  readonly group: string;
  readonly description: string;
  /** As authored: for a colour, linear red, green, blue and intensity in stops. */
  readonly default: readonly number[];
  /** As the uniform takes it: for a colour, linear red, green and blue times 2^stops. */
  readonly uniformDefault: readonly number[];
}

/** What a parameter is called in source. */
const uniformsOf = (parameter: Parameter, slots: ReadonlyMap<string, string>): string[] =>
  parameter.kind === 'noise'
    ? NOISE_MEMBERS.map((member) => memberName(parameter.name, member))
    : [slots.get(parameter.name) ?? parameter.name];

const parameterOf = (each: Parameter, slots: ReadonlyMap<string, string>): ContractParameter => ({
  name: each.name,
  kind: each.kind,
  scope: each.scope ?? 'material',
  uniform: parameterType(each.kind),
  uniforms: uniformsOf(each, slots),
  min: each.min,
  max: each.max,
  ends: each.ends ?? null,
  samples: isTable(each.kind) ? TABLE_SIZE : null,
  unit: each.unit,
  group: each.group,
  description: each.description,
  default: each.default,
  uniformDefault: shaderNumbers(each.kind, each.default),
});

export interface ContractSubject {
  readonly title: string;
  readonly shader: ShaderDocument;
  readonly program: Program;
  readonly builtIn: readonly string[];
  readonly materials: readonly { readonly name: string; readonly body: MaterialDocument }[];
  readonly shared: Readonly<Record<string, ParameterValue>>;
}

export const contractOf = (subject: ContractSubject): Contract => {
  const { title, shader, program, builtIn, materials, shared } = subject;
  const { reads, slots } = packLifetime(program.parameters);
  return {
    format: 'wicked-veil/contract',
    version: 2,
    shader: title,
    surface: {
      lit: shader.surface.lit,
      alphaMode: shader.surface.alphaMode,
      doubleSided: shader.surface.sides === 'both',
      depthWrite: shader.surface.depthWrite,
    },
    parameters: shader.parameters.map((each) => parameterOf(each, reads)),
    lifetimeVectors: slots,
    materials: materials.map(({ name, body }) => ({
      name,
      pictures: body.pictures ?? {},
      presets: body.presets ?? [],
      uniforms: Object.fromEntries(numbersFor(shader.parameters, { values: body.values, shared })),
    })),
    renamed: shader.renamed ?? {},
    builtIn: builtIn.filter((name) => !name.startsWith('lifetime')),
    requires: Object.fromEntries(requirementsOf(program).map((each) => [each, REQUIREMENTS[each]])),
  };
};

/** How many numbers a parameter's uniform takes. */
export const uniformSize = (kind: Parameter['kind']): number => (kind === 'color' ? 3 : parameterSize(kind));
