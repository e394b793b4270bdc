import type { Sampling } from '../document/sampling.ts';
import { byName } from '../document/valueKeys.ts';
import type { MaterialDocument, Preset, StageDocument } from '../document/project.ts';
import { placeName } from '../document/targets.ts';
import { driveWords } from '../time/driveWords.ts';
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
    /**
     * Textures that do not repeat both ways, are read at the nearest texel, hold colours or directions (whose smaller copies
     * are means of light, or stay one long), or 16 bits; the others repeat, are filtered, and hold numbers of 8 bits.
     */
    readonly sampling: Readonly<Record<string, Sampling>>;
    readonly presets: readonly Preset[];
  }[];
  /** What sets feed its materials' parameters from, with no script: a game does the same, or sets them itself. */
  readonly drives: readonly ContractDrive[];
  /** Curves of lifetime parameters over a layer's life, as flourishes of sets play them. */
  readonly lifetimes: readonly ContractLifetime[];
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

/** A standing rule that feeds a parameter; what it follows goes by name. */
export interface ContractDrive {
  readonly set: string;
  readonly material: string;
  readonly parameter: string;
  /** In a few words: “Bulb’s place”. */
  readonly told: string;
  readonly rule: Readonly<Record<string, unknown>>;
}
export interface ContractLifetime {
  readonly set: string;
  readonly flourish: string;
  readonly layer: string;
  readonly material: string;
  /** How long it lives, in seconds. */
  readonly life: number;
  /** By parameter, a curve for each of its numbers: x over its life from 0 to 1, y, slope before, slope after per key. */
  readonly curves: Readonly<Record<string, readonly (readonly number[])[]>>;
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
  readonly materials: readonly {
    readonly id: string;
    readonly name: string;
    readonly body: MaterialDocument;
  }[];
  /** Sets that its materials stand in. */
  readonly sets: readonly { readonly name: string; readonly body: StageDocument }[];
  readonly shared: Readonly<Record<string, ParameterValue>>;
}

const drivesOf = ({ shader, materials, sets }: ContractSubject): ContractDrive[] =>
  sets.flatMap(({ name: set, body }) =>
    (body.drives ?? []).flatMap((each): ContractDrive[] => {
      const material = materials.find(({ id }) => id === each.material);
      const parameter = shader.parameters.find(({ id }) => id === each.parameter);
      if (!material || !parameter) return [];
      const { id: _, material: __, parameter: ___, of, to, ...rule } = each;
      const named = (what: string | undefined) => what !== undefined && placeName(body.props, what);
      return [
        {
          ...{ set, material: material.name, parameter: parameter.name },
          told: driveWords(each, body.props),
          rule: {
            ...rule,
            ...(of === undefined ? {} : { of: named(of) }),
            ...(to === undefined ? {} : { to: named(to) }),
          },
        },
      ];
    }),
  );

const lifetimesOf = ({ shader, materials, sets }: ContractSubject): ContractLifetime[] =>
  sets.flatMap(({ name: set, body }) =>
    (body.flourishes ?? []).flatMap(({ name: flourish, layers }) =>
      layers.flatMap((layer): ContractLifetime[] => {
        const material = materials.find(({ id }) => id === layer.material);
        const curves = layer.values.flatMap(({ parameter: id, curves: given }) => {
          const parameter = shader.parameters.find((each) => each.id === id);
          return parameter ? [[parameter.name, given] as const] : [];
        });
        if (!material || !curves.length) return [];
        return [
          {
            ...{ set, flourish, layer: layer.name, material: material.name, life: layer.life },
            curves: Object.fromEntries(curves),
          },
        ];
      }),
    ),
  );

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
      pictures: byName(body.pictures, shader.parameters),
      sampling: byName(body.sampling, shader.parameters),
      presets: (body.presets ?? []).map((each) => ({
        ...each,
        values: byName(each.values, shader.parameters),
      })),
      uniforms: Object.fromEntries(numbersFor(shader.parameters, { values: body.values, shared })),
    })),
    drives: drivesOf(subject),
    lifetimes: lifetimesOf(subject),
    renamed: shader.renamed ?? {},
    builtIn: builtIn.filter((name) => !name.startsWith('lifetime')),
    requires: Object.fromEntries(requirementsOf(program).map((each) => [each, REQUIREMENTS[each]])),
  };
};

/** How many numbers a parameter's uniform takes. */
export const uniformSize = (kind: Parameter['kind']): number => (kind === 'color' ? 3 : parameterSize(kind));
