import type { InputName } from '../../program/inputs.ts';
import { primitiveOf, type WrittenItself } from '../../program/primitives.ts';
import { componentsOf, isVector, type Type } from '../../program/types.ts';
import { isNeverBelow0 } from '../../program/knownRange.ts';
import { offsetOf, type Value } from '../../program/value.ts';
import { GLSL_FUNCTIONS, GLSL_KEYWORDS } from '../../language/names/keywords.ts';
import { DEFINITIONS } from '../../language/names/glslNames.ts';
import { ATOM, isOrdered, type Dialect, type Spelled } from '../source/dialect.ts';

const POSTFIX = 18;
const UNARY = 16;
const TERNARY = 2;

/** The shortest decimal that reads back as the same 32-bit float, always with a point or an exponent. */
export const spellFloat = (x: number): string => {
  if (Number.isNaN(x)) return 'uintBitsToFloat(0x7fc00000u)';
  if (!Number.isFinite(x)) return x > 0 ? 'uintBitsToFloat(0x7f800000u)' : 'uintBitsToFloat(0xff800000u)';
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

const spellNumber = (type: Type, x: number): string =>
  type === 'float'
    ? spellFloat(x)
    : type === 'uint'
      ? `${x}u`
      : type === 'bool'
        ? x
          ? 'true'
          : 'false'
        : x === -2147483648
          ? '(-2147483647 - 1)'
          : String(x);

const spellConstant = (value: Pick<Value, 'type' | 'payload'>): Spelled => {
  const numbers = value.payload as readonly number[];
  if (componentsOf(value.type) === 1) {
    const text = spellNumber(value.type, numbers[0]!);
    return { text, binds: text.startsWith('-') ? UNARY : ATOM };
  }
  const same = value.type !== 'mat3' && numbers.every((x) => Object.is(x, numbers[0]));
  return call(value.type, (same ? numbers.slice(0, 1) : numbers).map(spellFloat));
};

const call = (name: string, args: readonly string[]): Spelled => ({
  text: `${name}(${args.join(', ')})`,
  binds: POSTFIX,
});

const bracket = (part: Spelled, binds: number): string => (part.binds < binds ? `(${part.text})` : part.text);

/** A scalar among vectors is written out as a vector. */
const spreadOver = (value: Value, input: number, part: Spelled): string =>
  isVector(value.type) && value.inputs[input]!.type === 'float' ? `${value.type}(${part.text})` : part.text;

/** Whole division is open in GLSL only where the divisor can be 0. */
const hasSafeDivisor = ({ inputs }: Value): boolean =>
  inputs[1]!.op === 'constant' && (inputs[1]!.payload as readonly number[])[0] !== 0;

/** True where a shift is known to stay within 32 bits. */
const isWithinWord = ({ op, payload }: Value): boolean => {
  if (op !== 'constant') return false;
  const [by] = payload as readonly number[];
  return by! >= 0 && by! <= 31;
};

/** GLSL leaves pow open of a base below 0, and of 0 to a power not above 0. */
const isSafePower = ({ inputs: [base, exponent] }: Value): boolean =>
  isNeverBelow0(base!) &&
  exponent!.op === 'constant' &&
  (exponent!.payload as readonly number[]).every((x) => x > 0);

/** Numbers that are cells within a period, which any whole number holds. */
const isCell = (value: Value): boolean =>
  value.op === 'constant' ||
  ((value.op === 'swizzle' || value.op === 'construct') && value.inputs.every(isCell)) ||
  (value.fn?.withinWholes ?? false);

/** A float beyond what a whole number holds is open in GLSL; here it is held at the ends. */
const isOpenConversion = (value: Value): boolean =>
  value.op === 'convert' &&
  (value.type === 'int' || value.type === 'uint') &&
  value.inputs[0]!.type === 'float' &&
  !isCell(value.inputs[0]!);

/** What each input of a shader is called in generated source. */
export const inputName = (name: InputName): string => (name === 'frontFacing' ? 'gl_FrontFacing' : name);

type Write = (value: Value, parts: readonly Spelled[], called: string) => Spelled;

const textsOf = (parts: readonly Spelled[]): string[] => parts.map((part) => part.text);

/** A sign between two values, brackets where they are needed. */
const spellInfix = (
  value: Value,
  [left, right]: readonly Spelled[],
  sign: string,
  binds: number,
): Spelled => {
  // a - -0.2 reads as a + 0.2
  if ((sign === '-' || sign === '+') && value.inputs[1]!.op === 'constant' && /^-[\d.e-]+$/.test(right!.text))
    return {
      text: `${bracket(left!, binds)} ${sign === '-' ? '+' : '-'} ${right!.text.slice(1)}`,
      binds,
    };
  return { text: `${bracket(left!, binds)} ${sign} ${bracket(right!, binds + 1)}`, binds };
};

/** GLSL leaves shifts past the word open; the lowest five bits count, as in WGSL. */
const shift =
  (sign: string): Write =>
  (value, parts) => {
    const by = value.inputs[1]!;
    if (isWithinWord(by)) return spellInfix(value, parts, sign, 12);
    const mask = by.type === 'uint' ? '31u' : '31';
    return { text: `${bracket(parts[0]!, 12)} ${sign} (${bracket(parts[1]!, 10)} & ${mask})`, binds: 12 };
  };
const prefix =
  (sign: string, binds: number): Write =>
  (_, [x]) => ({ text: `${sign}${bracket(x!, binds)}`, binds: UNARY });

const read: Write = (value, parts) => {
  const texels = offsetOf(value);
  const texts = textsOf(parts);
  if (!texels) return call(value.op, texts);
  // The offset stands before a bias, and after a level or slopes.
  texts.splice(value.op === 'texture' ? 2 : texts.length, 0, `ivec2(${texels.join(', ')})`);
  return call(`${value.op}Offset`, texts);
};
const sizeAlong =
  (axis: 'x' | 'y'): Write =>
  (_, parts) => ({ text: `${call('textureSize', textsOf(parts)).text}.${axis}`, binds: POSTFIX });

/** What GLSL writes neither as a call nor as a sign between two values, leaves open, or has by another grammar. */
const WRITTEN: Readonly<Record<WrittenItself<'glsl'>, Write>> = {
  negate: prefix('-', UNARY + 1),
  not: prefix('!', UNARY),
  bitNot: prefix('~', UNARY),
  shiftLeft: shift('<<'),
  shiftRight: shift('>>'),
  quotient: (value, parts) =>
    hasSafeDivisor(value) ? spellInfix(value, parts, '/', 14) : call('quotient', textsOf(parts)),
  round: (_, [x]) => call('floor', [`${bracket(x!, 13)} + 0.5`]),
  select: (_, parts) => {
    const [condition, yes, no] = parts.map((part) => bracket(part, TERNARY + 1));
    return { text: `${condition!} ? ${yes!} : ${no!}`, binds: TERNARY };
  },
  swizzle: (value, [x]) => ({ text: `${bracket(x!, POSTFIX)}.${value.payload as string}`, binds: POSTFIX }),
  convert: (value, parts) =>
    call(isOpenConversion(value) ? (value.type === 'int' ? 'whole' : 'wholeU') : value.type, textsOf(parts)),
  construct: (value, parts) => call(value.payload as string, textsOf(parts)),
  transform: (value, parts) => spellInfix(value, parts, '*', 14),
  texture: read,
  textureLod: read,
  textureGrad: read,
  texelFetch: (_, parts) => {
    const [texture, x, y, level] = textsOf(parts);
    return call('texelAt', [texture!, `ivec2(${x!}, ${y!})`, level!]);
  },
  textureWidth: sizeAlong('x'),
  textureHeight: sizeAlong('y'),
  bitcast: (value, parts) => {
    const from = value.inputs[0]!.type;
    const name =
      value.type === 'float'
        ? `${from}BitsToFloat`
        : from === 'float'
          ? `floatBitsTo${capital(value.type)}`
          : value.type;
    return call(name, textsOf(parts));
  },
  pow: (value, parts) =>
    call(
      isSafePower(value) ? 'pow' : 'power',
      parts.map((part, i) => spreadOver(value, i, part)),
    ),
  clamp: (value, parts) => {
    if (isOrdered(value)) return spellCall(value, parts, 'clamp', [1, 2]);
    const [x, low, high] = parts.map((part, i) => spreadOver(value, i, part));
    return call('min', [`max(${x!}, ${low!})`, high!]);
  },
};

/** A function that GLSL calls as we do, with scalars kept where it has that overload. */
const spellCall = (
  value: Value,
  parts: readonly Spelled[],
  name: string,
  scalars: readonly number[] = [],
): Spelled => {
  // A scalar may stay only where GLSL has that overload, and only if all that may stay do.
  const keep = scalars.every((i) => value.inputs[i]?.type === 'float');
  return call(
    name,
    parts.map((part, i) => (keep && scalars.includes(i) ? part.text : spreadOver(value, i, part))),
  );
};

/**
 * Spells one operation from its already spelled inputs. Leaves that live outside (parameters, knobs, arguments)
 * are spelled by whoever knows what they are called.
 */
const spell: Write = (value, parts, called) => {
  if (value.op === 'constant') return spellConstant(value);
  if (value.op === 'input') return { text: inputName(value.payload as InputName), binds: ATOM };
  if (value.fn) return call(called, textsOf(parts));
  const { glsl } = primitiveOf(value.op)!;
  if (glsl === 'own') return WRITTEN[value.op as WrittenItself<'glsl'>](value, parts, called);
  if ('infix' in glsl) return spellInfix(value, parts, glsl.infix, glsl.binds);
  return spellCall(value, parts, glsl.call, glsl.scalars);
};

/** True where GLSL's own operation leaves nothing open, so that no definition is needed. */
const isClosed = (value: Value): boolean =>
  (value.op === 'pow' && isSafePower(value)) ||
  (value.op === 'quotient' && hasSafeDivisor(value)) ||
  (value.op === 'convert' && !isOpenConversion(value));

const capital = (word: string): string => word[0]!.toUpperCase() + word.slice(1);

/** Definitions of what GLSL leaves open, each emitted only where it is used. */
const PRELUDE: Dialect['prelude'] = {
  convert: (types) =>
    [...types].map((type) =>
      type === 'int'
        ? 'int whole(float x) { return int(clamp(x, -2147483648.0, 2147483520.0)); }'
        : 'uint wholeU(float x) { return uint(clamp(x, 0.0, 4294967040.0)); }',
    ),
  normalize: (types) =>
    [...types].map(
      (type) =>
        `${type} unit(${type} v) { float size = length(v); return size > 0.0 ? v / size : ${type}(0.0); }`,
    ),
  pow: (types) => [
    'float power(float x, float y) { return mix(float(y <= 0.0), pow(x, y), x > 0.0); }',
    ...[...types].filter(isVector).map((type) => {
      const each = [...'xyzw'.slice(0, componentsOf(type))].map((c) => `power(x.${c}, y.${c})`);
      return `${type} power(${type} x, ${type} y) { return ${type}(${each.join(', ')}); }`;
    }),
  ],
  texelFetch: () => [
    'vec4 texelAt(sampler2D picture, ivec2 at, int level) { return texelFetch(picture, clamp(at, ivec2(0), textureSize(picture, level) - 1), level); }',
  ],
  quotient: (types) =>
    [...types].map(
      (type) => `${type} quotient(${type} a, ${type} b) { return b == ${type}(0) ? ${type}(0) : a / b; }`,
    ),
  remainder: (types) =>
    [...types].map(
      (type) =>
        `${type} remainder(${type} a, ${type} b) { return b == ${type}(0) ? ${type}(0) : a - b * (a / b); }`,
    ),
};

/** A type as it is declared: what has no precision of its own says it (GLSL ES 3.00, 4.5.4). */
export const spellType = (type: Type): string => (type === 'sampler3D' ? 'highp sampler3D' : type);

const block = (head: string, body: readonly string[]): string =>
  `${head} {\n${body.map((line) => `  ${line}`).join('\n')}\n}`;

export const GLSL: Dialect = {
  spell,
  declare: (type, name, text) => `${type} ${name} = ${text};`,
  constant: (type, payload) => spellConstant({ type, payload }).text,
  loop: (type, name, initial, count, call) => [
    `${type} ${name} = ${initial};`,
    `for (int i = 0; i < ${count}; ++i) ${name} = ${call};`,
  ],
  functionOf: (fn, name, parameters, body) =>
    block(
      `${fn.result.type} ${name}(${parameters.map((each) => `${spellType(each.type)} ${each.name}`).join(', ')})`,
      body,
    ),
  parameter: (name) => name,
  prelude: PRELUDE,
  isClosed,
  reserved: new Set([...GLSL_KEYWORDS, ...GLSL_FUNCTIONS, ...DEFINITIONS]),
};
