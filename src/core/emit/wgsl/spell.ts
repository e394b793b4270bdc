import { GLSL_FUNCTIONS, WGSL_FUNCTIONS, WGSL_KEYWORDS } from '../../language/names/keywords.ts';
import type { InputName } from '../../program/inputs.ts';
import { baseOf, componentsOf, isVector, type Type } from '../../program/types.ts';
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
};

/** How samplers are called beside their textures. */
export const samplerName = (texture: string): string => `${texture}_sampler`;

const call = (name: string, args: readonly string[]): Spelled => ({
  text: `${name}(${args.join(', ')})`,
  binds: POSTFIX,
});

/**
 * WGSL's grammar forbids some signs beside each other, so every operand that is itself an infix expression of another
 * kind stands in brackets (specification, section 8.18).
 */
const INFIX: Readonly<Record<string, readonly [sign: string, binds: number]>> = {
  multiply: ['*', 14],
  divide: ['/', 14],
  add: ['+', 13],
  subtract: ['-', 13],
  less: ['<', 11],
  lessEqual: ['<=', 11],
  bitAnd: ['&', 9],
  bitXor: ['^', 8],
  bitOr: ['|', 7],
  and: ['&&', 6],
  or: ['||', 4],
};
/** Signs that may follow each other without brackets. */
const ARITHMETIC = new Set([13, 14]);

const bracket = (part: Spelled, binds: number): string => (part.binds < binds ? `(${part.text})` : part.text);

const RENAMED: Readonly<Record<string, string>> = {
  ...{ inversesqrt: 'inverseSqrt', dFdx: 'dpdx', dFdy: 'dpdy' },
  ...{ packHalf2x16: 'pack2x16float', packSnorm2x16: 'pack2x16snorm', packUnorm2x16: 'pack2x16unorm' },
  ...{
    unpackHalf2x16: 'unpack2x16float',
    unpackSnorm2x16: 'unpack2x16snorm',
    unpackUnorm2x16: 'unpack2x16unorm',
  },
};

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

const spellConstant = (value: Value): Spelled => {
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

/** As GLSL's own conversions, where WGSL's are stricter: a float is held to the type's range. */
const convert = (value: Value, [part]: readonly Spelled[]): Spelled =>
  call(WGSL_TYPES[value.type], [part!.text]);

/** A texture without the sampler that is handed on beside it. */
const imageOf = (pair: string): string => pair.split(', ')[0]!;

/** A read of a texture; the vertex stage has no slopes of its own and reads the finest level. */
const sample = (stage: 'vertex' | 'fragment', value: Value, texts: readonly string[]): Spelled => {
  const [texture, uv, ...more] = texts as [string, string, ...string[]];
  const beside = offsetOf(value);
  const name =
    value.op === 'textureGrad'
      ? 'textureSampleGrad'
      : value.op === 'textureLod' || stage === 'vertex'
        ? 'textureSampleLevel'
        : more.length
          ? 'textureSampleBias'
          : 'textureSample';
  const level = value.op === 'texture' && stage === 'vertex' ? ['0.0'] : more;
  return call(name, [texture, uv, ...level, ...(beside ? [`vec2i(${beside.join(', ')})`] : [])]);
};

const spellWith =
  (stage: 'vertex' | 'fragment') =>
  (value: Value, parts: readonly Spelled[], called: string): Spelled => {
    const infix = INFIX[value.op];
    if (infix) {
      const [sign, binds] = infix;
      const mixes = (part: Spelled) =>
        part.binds < UNARY && !(ARITHMETIC.has(part.binds) && ARITHMETIC.has(binds) && part.binds >= binds);
      const left = mixes(parts[0]!) ? `(${parts[0]!.text})` : parts[0]!.text;
      const right = parts[1]!.binds < POSTFIX ? `(${parts[1]!.text})` : parts[1]!.text;
      return { text: `${left} ${sign} ${right}`, binds };
    }
    const texts = parts.map((part) => part.text);
    switch (value.op) {
      case 'constant':
        return spellConstant(value);
      case 'input':
        return { text: value.payload as InputName, binds: ATOM };
      case 'negate':
        return baseOf(value.type) === 'uint'
          ? { text: `(0u - ${bracket(parts[0]!, POSTFIX)})`, binds: ATOM }
          : { text: `-${bracket(parts[0]!, UNARY + 1)}`, binds: UNARY };
      case 'not':
        return { text: `!${bracket(parts[0]!, POSTFIX)}`, binds: UNARY };
      case 'bitNot':
        return { text: `~${bracket(parts[0]!, POSTFIX)}`, binds: UNARY };
      case 'xor':
        return { text: `${bracket(parts[0]!, POSTFIX)} != ${bracket(parts[1]!, POSTFIX)}`, binds: 10 };
      case 'equal': {
        const same = `${bracket(parts[0]!, POSTFIX)} == ${bracket(parts[1]!, POSTFIX)}`;
        return componentsOf(value.inputs[0]!.type) > 1 ? call('all', [same]) : { text: same, binds: 10 };
      }
      case 'shiftLeft':
      case 'shiftRight': {
        const sign = value.op === 'shiftLeft' ? '<<' : '>>';
        const by = value.inputs[1]!.type === 'uint' ? bracket(parts[1]!, POSTFIX) : `u32(${texts[1]!})`;
        return { text: `${bracket(parts[0]!, POSTFIX)} ${sign} (${by} & 31u)`, binds: 12 };
      }
      case 'round':
        return call('floor', [`${bracket(parts[0]!, 14)} + 0.5`]);
      case 'abs':
        return baseOf(value.type) === 'uint' ? parts[0]! : call('abs', texts);
      case 'select':
        return call('select', [texts[2]!, texts[1]!, texts[0]!]);
      case 'swizzle':
        return { text: `${bracket(parts[0]!, POSTFIX)}.${value.payload as string}`, binds: POSTFIX };
      case 'construct':
        return call(WGSL_TYPES[value.type], texts);
      case 'convert':
        return convert(value, parts);
      case 'transform':
        return { text: `${bracket(parts[0]!, POSTFIX)} * ${bracket(parts[1]!, POSTFIX)}`, binds: 14 };
      case 'call':
        return call(called, texts);
      case 'texture':
      case 'textureLod':
      case 'textureGrad':
        return sample(stage, value, texts);
      case 'texelFetch':
        return call('texelAt', [imageOf(texts[0]!), `vec2i(${texts[1]!}, ${texts[2]!})`, texts[3]!]);
      case 'textureWidth':
      case 'textureHeight':
        return call('i32', [
          `textureDimensions(${imageOf(texts[0]!)}, ${texts[1]!}).${value.op === 'textureWidth' ? 'x' : 'y'}`,
        ]);
      case 'bitcast':
        return call(`bitcast<${WGSL_TYPES[value.type]}>`, texts);
      case 'reflect':
        return call(value.type === 'float' ? 'mirrored' : 'reflect', texts);
      case 'length':
      case 'distance':
      case 'dot':
        // For single floats WGSL has no dot, and its length is the size.
        if (value.inputs[0]!.type === 'float')
          return value.op === 'dot'
            ? { text: `${bracket(parts[0]!, POSTFIX)} * ${bracket(parts[1]!, POSTFIX)}`, binds: 14 }
            : call(value.op, texts);
        return call(value.op, texts);
      case 'clamp': {
        const [x, low, high] = parts.map((part, i) => spread(value, i, part));
        return isOrdered(value)
          ? call('clamp', [x!, low!, high!])
          : call('min', [`max(${x!}, ${low!})`, high!]);
      }
      case 'mix':
        return call('mix', [
          spread(value, 0, parts[0]!),
          spread(value, 1, parts[1]!),
          isVector(value.type) ? spread(value, 2, parts[2]!) : texts[2]!,
        ]);
      default: {
        const defined = DEFINED[value.op];
        if (defined)
          return call(
            defined.name + mark(value.op === 'isnan' ? 'float' : value.type),
            parts.map((part, i) => spread(value, i, part)),
          );
        return call(
          RENAMED[value.op] ?? value.op,
          parts.map((part, i) => spread(value, i, part)),
        );
      }
    }
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
  loop: (type, name, initial, count, called) => [
    `var ${name}: ${WGSL_TYPES[type]} = ${initial};`,
    `for (var i: i32 = 0i; i < ${count}; i++) { ${name} = ${called}; }`,
  ],
  functionOf: (fn, name, parameters, body) => {
    const given = parameters.map((each) =>
      each.type === 'sampler2D'
        ? `${each.name}: ${WGSL_TYPES.sampler2D}, ${samplerName(each.name)}: sampler`
        : `${each.name}: ${WGSL_TYPES[each.type]}`,
    );
    const head = `fn ${name}(${given.join(', ')}) -> ${WGSL_TYPES[fn.result.type]} {`;
    return `${head}\n${body.map((line) => `  ${line}`).join('\n')}\n}`;
  },
  parameter: (name, type) => (type === 'sampler2D' ? `${name}, ${samplerName(name)}` : name),
  prelude: PRELUDE,
  isClosed: () => false,
  // GLSL's functions are most of WGSL's too.
  reserved: new Set([...WGSL_KEYWORDS, ...WGSL_FUNCTIONS, ...GLSL_FUNCTIONS, ...DEFINITIONS]),
});
