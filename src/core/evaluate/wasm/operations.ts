import { baseOf, componentsOf } from '../../program/types.ts';
import type { Value } from '../../program/value.ts';
import type { Code, Part } from './code.ts';
import { FLOAT_LANES } from './floatLanes.ts';
import { importOf, kindOf, SAMPLED } from './host.ts';
import { choose, f32 } from './lane.ts';
import { INT_LANES, UINT_LANES } from './wholeLanes.ts';

type Parts = readonly Part[];

/** The sum of products in order, each rounded to float. */
const dot = (code: Code, a: Parts, b: Parts): void =>
  a.forEach((part, c) => {
    code.get(part, b[c]!);
    code.op('f32.mul');
    if (c) code.op('f32.add');
  });

/** a·b − c·d in doubles, rounded once. */
const productsApart = (code: Code, a: Part, b: Part, c: Part, d: Part): void => {
  code.wide(a);
  code.wide(b);
  code.op('f64.mul');
  code.wide(c);
  code.wide(d);
  code.op('f64.mul', 'f64.sub', 'f32.demote_f64');
};

const keepAll = (code: Code, count: number, make: (c: number) => void): Part[] =>
  Array.from({ length: count }, (_, c) => {
    make(c);
    return code.keep('f32');
  });

/** Operations that mix components. Each gives the parts of its result. */
const MIXING: Readonly<Record<string, (code: Code, value: Value, inputs: readonly Parts[]) => Parts>> = {
  dot: (code, _, [a, b]) => keepAll(code, 1, () => dot(code, a!, b!)),
  length: (code, _, [a]) =>
    keepAll(code, 1, () => {
      dot(code, a!, a!);
      code.op('f32.sqrt');
    }),
  distance: (code, _, [a, b]) => {
    const apart = keepAll(code, a!.length, (c) => {
      code.get(a![c]!, b![c]!);
      code.op('f32.sub');
    });
    return keepAll(code, 1, () => {
      apart.forEach((d, c) => {
        code.wide(d);
        code.wide(d);
        code.op('f64.mul');
        if (c) code.op('f64.add');
      });
      code.op('f64.sqrt', 'f32.demote_f64');
    });
  },
  normalize: (code, _, [a]) => {
    dot(code, a!, a!);
    code.op('f64.promote_f32', 'f64.sqrt');
    const size = code.keep('f64');
    return keepAll(code, a!.length, (c) =>
      choose(
        code,
        () => {
          code.wide(a![c]!);
          code.get(size);
          code.op('f64.div', 'f32.demote_f64');
        },
        f32(code, 0),
        () => {
          code.get(size);
          code.constant('f64', 0);
          code.op('f64.gt');
        },
      ),
    );
  },
  reflect: (code, _, [incident, normal]) => {
    code.constant('f32', 2);
    dot(code, normal!, incident!);
    code.op('f32.mul');
    const twice = code.keep('f32');
    return keepAll(code, incident!.length, (c) => {
      code.wide(incident![c]!);
      code.wide(twice);
      code.wide(normal![c]!);
      code.op('f64.mul', 'f64.sub', 'f32.demote_f64');
    });
  },
  cross: (code, _, [a, b]) =>
    keepAll(code, 3, (c) => {
      const [j, k] = [(c + 1) % 3, (c + 2) % 3];
      productsApart(code, a![j]!, b![k]!, a![k]!, b![j]!);
    }),
  transform: (code, value, [m, v]) =>
    keepAll(code, componentsOf(value.type), (at) => {
      const [column, row] = [Math.floor(at / 3), at % 3];
      for (let k = 0; k < 3; k += 1) {
        code.wide(m![k * 3 + row]!);
        code.wide(v![column * 3 + k]!);
        code.op('f64.mul');
        if (k) code.op('f64.add');
      }
      code.op('f32.demote_f64');
    }),
  select: (code, value, [condition, yes, no]) =>
    yes!.map((part, c) => {
      code.get(part, no![c]!, condition![0]!);
      code.op('select');
      return code.keep(kindOf(value.type));
    }),
  construct: (_, value, inputs) => {
    const parts = inputs.flat();
    // One number fills the whole vector.
    return parts.length === 1 ? Array.from({ length: componentsOf(value.type) }, () => parts[0]!) : parts;
  },
  swizzle: (_, value, [a]) => [...(value.payload as string)].map((letter) => a!['xyzw'.indexOf(letter)]!),
  convert: (code, value, [a]) => {
    const from = baseOf(value.inputs[0]!.type);
    const part = a![0]!;
    const to = baseOf(value.type);
    if (to === 'bool') {
      code.get(part);
      code.constant(part.kind, 0);
      code.op(from === 'float' ? 'f32.ne' : 'i32.ne');
      return [code.keep('i32')];
    }
    if (from === 'float' && to !== 'float') {
      code.get(part);
      code.constant('f32', to === 'int' ? -2147483648 : 0);
      code.op('f32.max');
      code.constant('f32', to === 'int' ? LARGEST_INT : LARGEST_UINT);
      code.op('f32.min');
      code.truncate(to);
      return [code.keep('i32')];
    }
    if (to !== 'float') return [part];
    code.get(part);
    code.op(from === 'uint' ? 'f32.convert_i32_u' : 'f32.convert_i32_s');
    return [code.keep('f32')];
  },
  bitcast: (code, value, [a]) => {
    const [from, to] = [kindOf(value.inputs[0]!.type), kindOf(value.type)];
    if (from === to) return a!;
    const [part] = a!;
    if (to === 'f32') {
      code.get(part!);
      code.op('f32.reinterpret_i32');
      return [code.keep(to)];
    }
    // What is not a number has one pattern of bits, as in the columns.
    choose(
      code,
      () => code.constant('i32', 0x7fc00000),
      () => {
        code.get(part!);
        code.op('i32.reinterpret_f32');
      },
      () => {
        code.get(part!, part!);
        code.op('f32.ne');
      },
    );
    return [code.keep(to)];
  },
  texture: (code, _, [sampler, uv]) => {
    code.get(sampler![0]!, ...uv!);
    code.call(importOf('sample'));
    return keepAll(code, 4, (c) => {
      code.constant('i32', SAMPLED);
      code.load('f32', c * 4);
    });
  },
  /** True where every component is equal. */
  equal: (code, value, [a, b]) => {
    a!.forEach((part, c) => {
      code.get(part, b![c]!);
      code.op(kindOf(value.inputs[0]!.type) === 'f32' ? 'f32.eq' : 'i32.eq');
      if (c) code.op('i32.and');
    });
    return [code.keep('i32')];
  },
};
/** The largest floats that an int and a uint hold. */
const LARGEST_INT = 2147483520;
const LARGEST_UINT = 4294967040;

/** Writes one operation. @returns the parts of its result: locals, or parts of its inputs */
export const writeOperation = (code: Code, value: Value, inputs: readonly Parts[]): Parts => {
  const mixing = MIXING[value.op];
  if (mixing) return mixing(code, value, inputs);
  const base = baseOf(value.inputs[0]!.type);
  const lane = (base === 'float' ? FLOAT_LANES : base === 'uint' ? UINT_LANES : INT_LANES)[value.op]!;
  return Array.from({ length: componentsOf(value.type) }, (_, c) => {
    const [x, y, z] = inputs.map((parts) => parts[parts.length > 1 ? c : 0]);
    lane(code, x!, y!, z!);
    return code.keep(kindOf(value.type));
  });
};
