import { GLSL_FUNCTIONS, WGSL_FUNCTIONS, WGSL_KEYWORDS } from '../../language/names/keywords.ts';
import type { InputName } from '../../program/inputs.ts';
import { primitiveOf, type WrittenItself } from '../../program/primitives.ts';
import { isSampler, baseOf, componentsOf, isVector, type Type } from '../../program/types.ts';
import { offsetOf, type Value } from '../../program/value.ts';
import { DEFINITIONS } from '../../language/names/wgslNames.ts';
import { ATOM, isOrdered, type Dialect, type Spelled } from '../source/dialect.ts';

const POSTFIX = 18;
const UNARY = 16;

export const WGSL_TYPES: Readonly<Record<Type, string>> = {
  float: 'f32',
  int: 'i32',
  uint: 'u32',
  bool: 'bool',
  vec2: 'vec2f',
  vec3: 'vec3f',
  vec4: 'vec4f',
  mat3: 'mat3x3f',
  sampler2D: 'texture_2d<f32>',
  sampler3D: 'texture_3d<f32>',
};

/** How samplers are called beside their textures. */
export const samplerName = (texture: string): string => `${texture}_sampler`;

const call = (name: string, args: readonly string[]): Spelled => ({
  text: `${name}(${args.join(', ')})`,
  binds: POSTFIX,
});

/** Signs that may follow each other without brackets. */
const ARITHMETIC = new Set([13, 14]);

const bracket = (part: Spelled, binds: number): string => (part.binds < binds ? `(${part.text})` : part.text);

/** The shortest decimal that reads back as the same 32-bit float. */
const spellFloat = (x: number): string => {
  if (!Number.isFinite(x))
    return Number.isNaN(x)
      ? 'bitcast<f32>(nanBits)'
      : x > 0
        ? 'bitcast<f32>(infinityBits)'
        : '-bitcast<f32>(infinityBits)';
  if (Object.is(x, -0)) return '-0.0';
  for (let digits = 1; digits <= 9; digits += 1) {
    const text = x.toPrecision(digits);
    if (Math.fround(Number(text)) === Math.fround(x)) {
      const short = String(Number(text));
      return /[.e]/.test(short) ? short : `${short}.0`;
    }
  }
  return String(x);
};

const spellNumber = (type: Type, x: number): string => {
  switch (type) {
    case 'uint':
      return `${x}u`;
    case 'int':
      return x === -2147483648 ? 'i32(-2147483648)' : `${x}i`;
    case 'bool':
      return x ? 'true' : 'false';
    default:
      return spellFloat(x);
  }
};

const spellConstant = (value: Pick<Value, 'type' | 'payload'>): Spelled => {
  const numbers = value.payload as readonly number[];
  if (componentsOf(value.type) > 1) return call(WGSL_TYPES[value.type], numbers.map(spellFloat));
  const text = spellNumber(value.type, numbers[0]!);
  return { text, binds: text.startsWith('-') ? UNARY : ATOM };
};

/** A scalar among vectors is written out as a vector. */
const spread = (value: Value, input: number, part: Spelled): string =>
  isVector(value.type) && value.inputs[input]!.type === 'float'
    ? `${WGSL_TYPES[value.type]}(${part.text})`
    : part.text;

/** A texture without the sampler that is handed on beside it. */
const imageOf = (pair: string): string => pair.split(', ')[0]!;

/** A read of a texture; the vertex stage has no slopes of its own and reads the finest level. */
const sample = (stage: 'vertex' | 'fragment', value: Value, texts: readonly string[]): Spelled => {
  const [texture, uv, ...more] = texts as [string, string, ...string[]];
  const texels = offsetOf(value);
  const name =
    value.op === 'textureGrad'
      ? 'textureSampleGrad'
      : value.op === 'textureLod' || stage === 'vertex'
        ? 'textureSampleLevel'
        : more.length
          ? 'textureSampleBias'
          : 'textureSample';
  const level = value.op === 'texture' && stage === 'vertex' ? ['0.0'] : more;
  return call(name, [texture, uv, ...level, ...(texels ? [`vec2i(${texels.join(', ')})`] : [])]);
};

type Write = (value: Value, parts: readonly Spelled[]) => Spelled;

const textsOf = (parts: readonly Spelled[]): string[] => parts.map((part) => part.text);
const spreadAll = (value: Value, parts: readonly Spelled[]): string[] =>
  parts.map((part, i) => spread(value, i, part));

/** A sign before a value. */
const prefix =
  (sign: string): Write =>
  (_, [x]) => ({ text: `${sign}${bracket(x!, POSTFIX)}`, binds: UNARY });
/** A sign between two values that never stand beside it without brackets. */
const between =
  (sign: string, binds: number): Write =>
  (_, [x, y]) => ({ text: `${bracket(x!, POSTFIX)} ${sign} ${bracket(y!, POSTFIX)}`, binds });
/**
 * WGSL's grammar forbids some signs beside each other, so every operand that is itself an infix expression of another
 * kind stands in brackets (specification, section 8.18).
 */
const spellInfix = ([x, y]: readonly Spelled[], sign: string, binds: number): Spelled => {
  const mixes = x!.binds < UNARY && !(ARITHMETIC.has(x!.binds) && ARITHMETIC.has(binds) && x!.binds >= binds);
  const left = mixes ? `(${x!.text})` : x!.text;
  return { text: `${left} ${sign} ${bracket(y!, POSTFIX)}`, binds };
};
const shift =
  (sign: string): Write =>
  (value, [x, y]) => {
    const by = value.inputs[1]!.type === 'uint' ? bracket(y!, POSTFIX) : `u32(${y!.text})`;
    return { text: `${bracket(x!, POSTFIX)} ${sign} (${by} & 31u)`, binds: 12 };
  };
const sizeAlong =
  (axis: 'x' | 'y'): Write =>
  (_, [texture, level]) =>
    call('i32', [`textureDimensions(${imageOf(texture!.text)}, ${level!.text}).${axis}`]);
/** What is defined in what is emitted, a name for each type. */
const defined: Write = (value, parts) =>
  call(DEFINED[value.op]!.name + mark(value.op === 'isnan' ? 'float' : value.type), spreadAll(value, parts));

/** What WGSL writes neither as a call nor as a plain sign, lacks, leaves open, or has by another grammar. */
const writtenIn = (stage: 'vertex' | 'fragment'): Readonly<Record<WrittenItself<'wgsl'>, Write>> => {
  const read: Write = (value, parts) => sample(stage, value, textsOf(parts));
  return {
    ...{ texture: read, textureLod: read, textureGrad: read },
    ...{ normalize: defined, mod: defined, smoothstep: defined, isnan: defined },
    ...{ pow: defined, quotient: defined, remainder: defined },
    negate: (value, [x]) =>
      baseOf(value.type) === 'uint'
        ? { text: `(0u - ${bracket(x!, POSTFIX)})`, binds: ATOM }
        : { text: `-${bracket(x!, UNARY + 1)}`, binds: UNARY },
    // WebGPU counts rows of pixels downwards, GLSL upwards.
    dFdy: (_, [x]) => ({ text: `-dpdy(${x!.text})`, binds: UNARY }),
    not: prefix('!'),
    bitNot: prefix('~'),
    xor: between('!=', 10),
    transform: between('*', 14),
    equal: (value, parts) => {
      const same = between('==', 10)(value, parts);
      return componentsOf(value.inputs[0]!.type) > 1 ? call('all', [same.text]) : same;
    },
    shiftLeft: shift('<<'),
    shiftRight: shift('>>'),
    round: (_, [x]) => call('floor', [`${bracket(x!, 14)} + 0.5`]),
    abs: (value, parts) => (baseOf(value.type) === 'uint' ? parts[0]! : call('abs', textsOf(parts))),
    select: (_, [condition, yes, no]) => call('select', [no!.text, yes!.text, condition!.text]),
    swizzle: (value, [x]) => ({
      text: `${bracket(x!, POSTFIX)}.${value.payload as string}`,
      binds: POSTFIX,
    }),
    construct: (value, parts) => call(WGSL_TYPES[value.type], textsOf(parts)),
    // A float is held to the range of a whole number, as WGSL's own conversions hold it.
    convert: (value, parts) => call(WGSL_TYPES[value.type], textsOf(parts)),
    texelFetch: (_, parts) => {
      const [texture, x, y, level] = textsOf(parts);
      return call('texelAt', [imageOf(texture!), `vec2i(${x!}, ${y!})`, level!]);
    },
    textureWidth: sizeAlong('x'),
    textureHeight: sizeAlong('y'),
    bitcast: (value, parts) => call(`bitcast<${WGSL_TYPES[value.type]}>`, textsOf(parts)),
    reflect: (value, parts) => call(value.type === 'float' ? 'mirrored' : 'reflect', textsOf(parts)),
    // Of single floats WGSL has no dot.
    dot: (value, parts) =>
      value.inputs[0]!.type === 'float' ? between('*', 14)(value, parts) : call('dot', textsOf(parts)),
    clamp: (value, parts) => {
      const [x, low, high] = spreadAll(value, parts);
      return isOrdered(value)
        ? call('clamp', [x!, low!, high!])
        : call('min', [`max(${x!}, ${low!})`, high!]);
    },
  };
};

const spellWith = (stage: 'vertex' | 'fragment'): Dialect['spell'] => {
  const written = writtenIn(stage);
  return (value, parts, called) => {
    if (value.op === 'constant') return spellConstant(value);
    if (value.op === 'input') return { text: value.payload as InputName, binds: ATOM };
    if (value.fn) return call(called, textsOf(parts));
    const { wgsl } = primitiveOf(value.op)!;
    if (wgsl === 'own') return written[value.op as WrittenItself<'wgsl'>](value, parts);
    if ('infix' in wgsl) return spellInfix(parts, wgsl.infix, wgsl.binds);
    return call(wgsl.call, spreadAll(value, parts));
  };
};

/** WGSL has no overloads: what is defined for several types has a name for each. */
const mark = (type: Type): string => ({ vec2: '2', vec3: '3', vec4: '4', uint: 'U' })[type as string] ?? '';

interface Definition {
  readonly name: string;
  readonly write: (t: string, name: string, type: Type) => string;
}

const powerOf = (t: string, name: string, type: Type): string => {
  if (!isVector(type))
    return `fn ${name}(x: f32, y: f32) -> f32 { if (x > 0.0) { return pow(x, y); } return select(1.0, 0.0, y > 0.0); }`;
  const each = [...'xyzw'.slice(0, componentsOf(type))].map((c) => `power(x.${c}, y.${c})`);
  return `fn ${name}(x: ${t}, y: ${t}) -> ${t} { return ${t}(${each.join(', ')}); }`;
};

/** What WGSL lacks or leaves open, by operation. */
const DEFINED: Readonly<Record<string, Definition>> = {
  normalize: {
    name: 'unit',
    write: (t, name, type) =>
      isVector(type)
        ? `fn ${name}(v: ${t}) -> ${t} { let size = length(v); return select(${t}(0.0), v / size, size > 0.0); }`
        : `fn ${name}(v: f32) -> f32 { return sign(v); }`,
  },
  mod: {
    name: 'modulo',
    write: (t, name) => `fn ${name}(x: ${t}, y: ${t}) -> ${t} { return x - y * floor(x / y); }`,
  },
  smoothstep: {
    name: 'smoothRise',
    write: (t, name) =>
      `fn ${name}(low: ${t}, high: ${t}, x: ${t}) -> ${t} { let t = saturate((x - low) / (high - low)); return t * t * (3.0 - 2.0 * t); }`,
  },
  isnan: {
    name: 'isNan',
    write: (_, name) =>
      `fn ${name}(x: f32) -> bool { return (bitcast<u32>(x) & 0x7fffffffu) > 0x7f800000u; }`,
  },
  pow: { name: 'power', write: powerOf },
  quotient: {
    name: 'quotient',
    write: (t, name) =>
      `fn ${name}(a: ${t}, b: ${t}) -> ${t} { return select(a / b, ${t}(0), b == ${t}(0)); }`,
  },
  remainder: {
    name: 'remainder',
    write: (t, name) =>
      `fn ${name}(a: ${t}, b: ${t}) -> ${t} { return select(a - b * (a / b), ${t}(0), b == ${t}(0)); }`,
  },
};

/** WGSL mirrors vectors only. */
const MIRRORED = 'fn mirrored(x: f32, n: f32) -> f32 { return x - 2.0 * n * x * n; }';
const TEXEL_AT =
  'fn texelAt(picture: texture_2d<f32>, at: vec2i, level: i32) -> vec4f { return textureLoad(picture, clamp(at, vec2i(0), vec2i(textureDimensions(picture, level)) - 1), level); }';

const PRELUDE: Dialect['prelude'] = Object.fromEntries([
  ['reflect', (types: ReadonlySet<Type>) => (types.has('float') ? [MIRRORED] : [])],
  ['texelFetch', () => [TEXEL_AT]],
  ...Object.entries(DEFINED).map(([op, { name, write }]) => [
    op,
    (types: ReadonlySet<Type>) => {
      const wanted = op === 'isnan' ? new Set<Type>(['float']) : new Set(types);
      if (op === 'pow') wanted.add('float');
      return [...wanted].map((type) => write(WGSL_TYPES[type], name + mark(type), type));
    },
  ]),
]);

export const createWgsl = (stage: 'vertex' | 'fragment'): Dialect => ({
  spell: spellWith(stage),
  declare: (type, name, text) => `let ${name}: ${WGSL_TYPES[type]} = ${text};`,
  constant: (type, payload) => spellConstant({ type, payload }).text,
  loop: (type, name, initial, count, called) => [
    `var ${name}: ${WGSL_TYPES[type]} = ${initial};`,
    `for (var i: i32 = 0i; i < ${count}; i++) { ${name} = ${called}; }`,
  ],
  functionOf: (fn, name, parameters, body) => {
    const given = parameters.map((each) =>
      isSampler(each.type)
        ? `${each.name}: ${WGSL_TYPES[each.type]}, ${samplerName(each.name)}: sampler`
        : `${each.name}: ${WGSL_TYPES[each.type]}`,
    );
    const head = `fn ${name}(${given.join(', ')}) -> ${WGSL_TYPES[fn.result.type]} {`;
    return `${head}\n${body.map((line) => `  ${line}`).join('\n')}\n}`;
  },
  parameter: (name, type) => (isSampler(type) ? `${name}, ${samplerName(name)}` : name),
  prelude: PRELUDE,
  isClosed: () => false,
  // GLSL's functions are most of WGSL's too.
  reserved: new Set([...WGSL_KEYWORDS, ...WGSL_FUNCTIONS, ...GLSL_FUNCTIONS, ...DEFINITIONS]),
});
