import type { InputName } from '../../program/inputs.ts';
import { componentsOf, isVector, type Type } from '../../program/types.ts';
import { isNeverBelow0 } from '../../program/knownRange.ts';
import { offsetOf, type Value } from '../../program/value.ts';
import { GLSL_FUNCTIONS, GLSL_KEYWORDS } from '../../language/names/keywords.ts';
import { DEFINITIONS } from '../../language/names/glslNames.ts';
import { ATOM, isOrdered, type Dialect, type Spelled } from '../source/dialect.ts';

const POSTFIX = 18;
const UNARY = 16;
const TERNARY = 2;

/** GLSL ES 3.00's precedences (section 5.1), larger binding tighter. */
const INFIX: Readonly<Record<string, readonly [string, number]>> = {
  multiply: ['*', 14],
  divide: ['/', 14],
  add: ['+', 13],
  subtract: ['-', 13],
  shiftLeft: ['<<', 12],
  shiftRight: ['>>', 12],
  less: ['<', 11],
  lessEqual: ['<=', 11],
  equal: ['==', 10],
  bitAnd: ['&', 9],
  bitXor: ['^', 8],
  bitOr: ['|', 7],
  and: ['&&', 6],
  xor: ['^^', 5],
  or: ['||', 4],
};

/** Where GLSL's own overloads allow a scalar beside vectors: which inputs may stay scalar. */
const SCALAR_ALLOWED: Readonly<Record<string, readonly number[]>> = {
  min: [1],
  max: [1],
  mod: [1],
  clamp: [1, 2],
  mix: [2],
  step: [0],
  smoothstep: [0, 1],
};

const RENAMED: Readonly<Record<string, string>> = { atan2: 'atan', normalize: 'unit' };

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

const spellConstant = (value: Value): Spelled => {
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

/**
 * Spells one operation from its already spelled inputs. Leaves that live outside (parameters, knobs, arguments)
 * are spelled by whoever knows what they are called.
 */
const spell = (value: Value, parts: readonly Spelled[], called: string): Spelled => {
  const infix = INFIX[value.op];
  if (infix) {
    const [sign, binds] = infix;
    const right = value.inputs[1]!;
    if ((value.op === 'shiftLeft' || value.op === 'shiftRight') && !isWithinWord(right)) {
      // GLSL leaves shifts past the word open; the lowest five bits count, as in WGSL.
      const mask = right.type === 'uint' ? '31u' : '31';
      return { text: `${bracket(parts[0]!, binds)} ${sign} (${bracket(parts[1]!, 10)} & ${mask})`, binds };
    }
    // a - -0.2 reads as a + 0.2
    if ((sign === '-' || sign === '+') && right.op === 'constant' && /^-[\d.e-]+$/.test(parts[1]!.text))
      return {
        text: `${bracket(parts[0]!, binds)} ${sign === '-' ? '+' : '-'} ${parts[1]!.text.slice(1)}`,
        binds,
      };
    return {
      text: `${bracket(parts[0]!, binds)} ${sign} ${bracket(parts[1]!, binds + 1)}`,
      binds,
    };
  }
  switch (value.op) {
    case 'constant':
      return spellConstant(value);
    case 'input':
      return { text: inputName(value.payload as InputName), binds: ATOM };
    case 'quotient':
      if (hasSafeDivisor(value))
        return { text: `${bracket(parts[0]!, 14)} / ${bracket(parts[1]!, 15)}`, binds: 14 };
      return call(
        'quotient',
        parts.map((part) => part.text),
      );
    case 'negate':
      return { text: `-${bracket(parts[0]!, UNARY + 1)}`, binds: UNARY };
    case 'not':
      return { text: `!${bracket(parts[0]!, UNARY)}`, binds: UNARY };
    case 'bitNot':
      return { text: `~${bracket(parts[0]!, UNARY)}`, binds: UNARY };
    case 'round':
      return call('floor', [`${bracket(parts[0]!, 13)} + 0.5`]);
    case 'select':
      return {
        text: `${bracket(parts[0]!, TERNARY + 1)} ? ${bracket(parts[1]!, TERNARY + 1)} : ${bracket(parts[2]!, TERNARY + 1)}`,
        binds: TERNARY,
      };
    case 'swizzle':
      return { text: `${bracket(parts[0]!, POSTFIX)}.${value.payload as string}`, binds: POSTFIX };
    case 'convert':
      if (isOpenConversion(value)) return call(value.type === 'int' ? 'whole' : 'wholeU', [parts[0]!.text]);
      return call(value.type, [parts[0]!.text]);
    case 'construct':
      return call(
        value.payload as string,
        parts.map((part) => part.text),
      );
    case 'transform':
      return { text: `${bracket(parts[0]!, 14)} * ${bracket(parts[1]!, 15)}`, binds: 14 };
    case 'call':
      return call(
        called,
        parts.map((part) => part.text),
      );
    case 'texture':
    case 'textureLod':
    case 'textureGrad': {
      const beside = offsetOf(value);
      const texts = parts.map((part) => part.text);
      if (!beside) return call(value.op, texts);
      // The offset stands before a bias, and after a level or slopes.
      texts.splice(value.op === 'texture' ? 2 : texts.length, 0, `ivec2(${beside.join(', ')})`);
      return call(`${value.op}Offset`, texts);
    }
    case 'texelFetch': {
      const [texture, x, y, level] = parts.map((part) => part.text);
      return call('texelAt', [texture!, `ivec2(${x!}, ${y!})`, level!]);
    }
    case 'textureWidth':
    case 'textureHeight': {
      const { text } = call(
        'textureSize',
        parts.map((part) => part.text),
      );
      return { text: `${text}.${value.op === 'textureWidth' ? 'x' : 'y'}`, binds: POSTFIX };
    }
    case 'bitcast': {
      const from = value.inputs[0]!.type;
      const name =
        value.type === 'float'
          ? `${from}BitsToFloat`
          : from === 'float'
            ? `floatBitsTo${capital(value.type)}`
            : value.type;
      return call(name, [parts[0]!.text]);
    }
    case 'pow':
      return call(
        isSafePower(value) ? 'pow' : 'power',
        parts.map((part, i) => spreadOver(value, i, part)),
      );
    case 'clamp': {
      if (isOrdered(value)) return spellShared(value, parts);
      const [x, low, high] = parts.map((part, i) => spreadOver(value, i, part));
      return call('min', [`max(${x!}, ${low!})`, high!]);
    }
    default:
      return spellShared(value, parts);
  }
};

/** A function that GLSL calls as we do, with scalars kept where it has that overload. */
const spellShared = (value: Value, parts: readonly Spelled[]): Spelled => {
  const allowed = SCALAR_ALLOWED[value.op] ?? [];
  // A scalar may stay only where GLSL has that overload, and only if all that may stay do.
  const keep = allowed.every((i) => value.inputs[i]?.type === 'float');
  return call(
    RENAMED[value.op] ?? value.op,
    parts.map((part, i) => (keep && allowed.includes(i) ? part.text : spreadOver(value, i, part))),
  );
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

const block = (head: string, body: readonly string[]): string =>
  `${head} {\n${body.map((line) => `  ${line}`).join('\n')}\n}`;

export const GLSL: Dialect = {
  spell,
  declare: (type, name, text) => `${type} ${name} = ${text};`,
  loop: (type, name, initial, count, call) => [
    `${type} ${name} = ${initial};`,
    `for (int i = 0; i < ${count}; ++i) ${name} = ${call};`,
  ],
  functionOf: (fn, name, parameters, body) =>
    block(
      `${fn.result.type} ${name}(${parameters.map((each) => `${each.type} ${each.name}`).join(', ')})`,
      body,
    ),
  parameter: (name) => name,
  prelude: PRELUDE,
  isClosed,
  reserved: new Set([...GLSL_KEYWORDS, ...GLSL_FUNCTIONS, ...DEFINITIONS]),
};
