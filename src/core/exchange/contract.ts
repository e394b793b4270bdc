import type { MaterialDocument } from '../document/project.ts';
import { shaderNumbers, type ShaderDocument } from '../document/shader.ts';
import { parameterType } from '../program/lowerShader.ts';

/** What a game must know to drive a shader: every parameter's name, type, range and meaning. */
export interface Contract {
  readonly format: 'wicked-veil/contract';
  readonly version: 1;
  readonly shader: string;
  readonly surface: {
    readonly lit: boolean;
    readonly alphaMode: string;
    readonly doubleSided: boolean;
    readonly depthWrite: boolean;
  };
  readonly parameters: readonly ContractParameter[];
  /** Values of each material made from the shader, as its uniforms take them. */
  readonly materials: readonly {
    readonly name: string;
    readonly uniforms: Readonly<Record<string, readonly number[]>>;
    /** The SHA-256 of the picture that each texture reads. */
    readonly pictures: Readonly<Record<string, string>>;
  }[];
  /** What the source reads besides parameters, and who must give it. */
  readonly builtIn: readonly string[];
}

export interface ContractParameter {
  readonly name: string;
  readonly kind: string;
  /** The uniform's GLSL type. */
  readonly uniform: string;
  readonly min: number;
  readonly max: number;
  readonly unit: string;
  readonly group: string;
  readonly description: string;
  /** As authored: for a colour, linear red, green, blue and intensity in stops. */
  readonly default: readonly number[];
  /** As the uniform takes it: for a colour, linear red, green and blue times 2^stops. */
  readonly uniformDefault: readonly number[];
}

/** Names after `uniform` in source that are not the author's. */
const builtIns = (sources: readonly string[], own: ReadonlySet<string>): string[] => {
  const names = sources.flatMap((source) =>
    [...source.matchAll(/^uniform (\w+) (\w+)/gm)].map((each) => each[2]!),
  );
  return [...new Set(names)].filter((name) => !own.has(name)).sort();
};

export const contractOf = (
  title: string,
  shader: ShaderDocument,
  materials: readonly { readonly name: string; readonly body: MaterialDocument }[],
  sources: readonly string[],
): Contract => ({
  format: 'wicked-veil/contract',
  version: 1,
  shader: title,
  surface: {
    lit: shader.surface.lit,
    alphaMode: shader.surface.alphaMode,
    doubleSided: shader.surface.sides === 'both',
    depthWrite: shader.surface.depthWrite,
  },
  parameters: shader.parameters.map((each) => ({
    name: each.name,
    kind: each.kind,
    uniform: parameterType(each.kind),
    min: each.min,
    max: each.max,
    unit: each.unit,
    group: each.group,
    description: each.description,
    default: each.default,
    uniformDefault: shaderNumbers(each.kind, each.default),
  })),
  materials: materials.map(({ name, body }) => ({
    name,
    pictures: body.pictures ?? {},
    uniforms: Object.fromEntries(
      shader.parameters
        .filter((each) => each.kind !== 'texture')
        .map((each) => [
          each.name,
          shaderNumbers(
            each.kind,
            Object.hasOwn(body.values, each.name) ? body.values[each.name]! : each.default,
          ),
        ]),
    ),
  })),
  builtIn: builtIns(sources, new Set(shader.parameters.map((each) => each.name))),
});
