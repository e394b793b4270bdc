import type { Builder } from '../../program/builder.ts';
import { componentsOf as sizeOf } from '../../program/types.ts';
import type { Value } from '../../program/value.ts';
import { fail, type Span } from '../../language/mistake.ts';
import type { BuiltIn } from './builtIn.ts';
import { one, shape, type GlslValue } from './glslValue.ts';
import { opaque } from './opaque.ts';

/** How far beside its place a read may be: what every implementation has (GLSL ES 3.00, 8.8). */
const LEAST_OFFSET = -8;
const MOST_OFFSET = 7;

/** A whole offset, which has to be known beforehand. */
const offsetOf = (given: GlslValue, at: Span): readonly [number, number] => {
  if (given.type !== 'ivec2') return fail(at, `The offset is an ivec2, not a ${given.type}.`);
  const numbers = given.parts.map((part) =>
    part.op === 'constant' ? (part.payload as readonly number[])[0]! : null,
  );
  const wrong = numbers.find((x) => x === null || x < LEAST_OFFSET || x > MOST_OFFSET);
  if (wrong === null) return opaque(at, 'the offset of a texture’s read is not known beforehand');
  if (wrong !== undefined)
    return fail(at, `The offset is from ${LEAST_OFFSET} to ${MOST_OFFSET} texels, not ${wrong}.`);
  return numbers as unknown as readonly [number, number];
};

const float = (b: Builder, value: GlslValue): Value => {
  const [part] = value.parts;
  return part!.type === 'int' || part!.type === 'uint' ? b.convert('float', part!) : part!;
};
const whole = (b: Builder, { parts: [part] }: GlslValue): Value =>
  part!.type === 'uint' ? b.convert('int', part!) : part!;

/** A place whose last component divides the others. */
const projected = (b: Builder, { parts: [p], type }: GlslValue, at: Span): Value => {
  if (type !== 'vec3' && type !== 'vec4')
    return fail(at, `The place is a vec3 or a vec4 here, not a ${type}.`);
  return b.divide(b.swizzle(p!, 'xy'), b.swizzle(p!, 'xyzw'[sizeOf(p!.type) - 1]!));
};

type Op = 'texture' | 'textureLod' | 'textureGrad';
interface Form {
  readonly op: Op;
  readonly projects?: boolean;
  readonly offset?: boolean;
}

/** Arguments that follow the place: a level, or two slopes. */
const FOLLOWS: Readonly<Record<Op, number>> = { texture: 0, textureLod: 1, textureGrad: 2 };

/** One of the reads of a 2D texture: texture, textureLod, textureProjGradOffset… */
const read =
  ({ op, projects = false, offset = false }: Form): BuiltIn =>
  (b, [picture, place, ...more], at) => {
    if (shape(picture!).form !== 'sampler') return fail(at, 'What is read is a sampler2D.');
    const uv = projects ? projected(b, place!, at) : place!.parts[0]!;
    const detail = more.slice(0, FOLLOWS[op]).map((each) => float(b, each));
    const [first, ...rest] = more.slice(FOLLOWS[op]);
    const texels = offset ? offsetOf(first!, at) : ([0, 0] as const);
    const bias = (offset ? rest : first ? [first] : []).map((each) => float(b, each));
    return one(b.sampleAtOffset(op, texels, picture!.parts[0]!, uv, ...detail, ...bias));
  };

const fetch =
  (offset: boolean): BuiltIn =>
  (b, [picture, place, level, by], at) => {
    if (place!.type !== 'ivec2') return fail(at, `The texel is an ivec2, not a ${place!.type}.`);
    const texels = offset ? offsetOf(by!, at) : [0, 0];
    const [x, y] = place!.parts.map((part, i) => b.add(part, b.int(texels[i]!)));
    return one(b.texelFetch(picture!.parts[0]!, x!, y!, whole(b, level!)));
  };

/** The functions that ask a 2D texture, by how many arguments they take. */
export const TEXTURES: Readonly<Record<string, readonly [least: number, most: number, build: BuiltIn]>> = {
  texture: [2, 3, read({ op: 'texture' })],
  texture2D: [2, 3, read({ op: 'texture' })],
  texture2DProj: [2, 3, read({ op: 'texture', projects: true })],
  texture2DLod: [3, 3, read({ op: 'textureLod' })],
  texture2DLodEXT: [3, 3, read({ op: 'textureLod' })],
  texture2DGradEXT: [4, 4, read({ op: 'textureGrad' })],
  textureOffset: [3, 4, read({ op: 'texture', offset: true })],
  textureProj: [2, 3, read({ op: 'texture', projects: true })],
  textureProjOffset: [3, 4, read({ op: 'texture', projects: true, offset: true })],
  textureLod: [3, 3, read({ op: 'textureLod' })],
  textureLodOffset: [4, 4, read({ op: 'textureLod', offset: true })],
  textureProjLod: [3, 3, read({ op: 'textureLod', projects: true })],
  textureProjLodOffset: [4, 4, read({ op: 'textureLod', projects: true, offset: true })],
  textureGrad: [4, 4, read({ op: 'textureGrad' })],
  textureGradOffset: [5, 5, read({ op: 'textureGrad', offset: true })],
  textureProjGrad: [4, 4, read({ op: 'textureGrad', projects: true })],
  textureProjGradOffset: [5, 5, read({ op: 'textureGrad', projects: true, offset: true })],
  texelFetch: [3, 3, fetch(false)],
  texelFetchOffset: [4, 4, fetch(true)],
  textureSize: [
    2,
    2,
    (b, [picture, level]) => {
      const [at, of] = [picture!.parts[0]!, whole(b, level!)];
      return { type: 'ivec2', parts: [b.textureWidth(at, of), b.textureHeight(at, of)] };
    },
  ],
};
