import type { Builder } from '../../program/builder.ts';
import type { Type } from '../../program/types.ts';
import type { Value } from '../../program/value.ts';
import { fail } from '../../language/mistake.ts';
import type { Call } from '../../language/syntax.ts';
import { componentsOf, fromComponents, one, shape, shapeOf, type GlslValue } from './glslValue.ts';
import { opaque } from './opaque.ts';

const convertScalar = (b: Builder, value: Value, base: Type): Value =>
  value.type === base ? value : b.convert(base, value);

/** vec3(…), mat2(…), ivec2(…), float(…). */
export const construct = (b: Builder, e: Call, type: string, values: readonly GlslValue[]): GlslValue => {
  const wanted = shapeOf(type);
  if (!wanted) return opaque(e, `the program has no ${type}`);
  if (!values.length) return fail(e, `${type}(…) needs something between its brackets.`);
  const { base, form, size } = wanted;
  const name = type.replace(/^mat(\d)x\1$/, 'mat$1');
  const [first] = values;
  if (form === 'sampler') return fail(e, 'A sampler cannot be made.');
  if (form === 'matrix' && values.length === 1) {
    const from = shape(first!);
    if (from.form === 'scalar') {
      const x = convertScalar(b, first!.parts[0]!, 'float');
      return fromComponents(
        b,
        name,
        Array.from({ length: size * size }, (_, i) => (i % (size + 1) ? b.float(0) : x)),
      );
    }
    if (from.form === 'matrix') {
      const cells = Array.from({ length: size * size }, (_, i) => {
        const [c, r] = [Math.floor(i / size), i % size];
        return c < from.size && r < from.size
          ? b.swizzle(first!.parts[c]!, 'xyzw'[r]!)
          : b.float(c === r ? 1 : 0);
      });
      return fromComponents(b, name, cells);
    }
  }
  if (values.length === 1 && form === 'vector' && first!.type === name) return first!;
  if (values.length === 1 && form === 'vector' && shape(first!).form === 'scalar')
    return one(b.construct(name as Type, convertScalar(b, first!.parts[0]!, 'float')));
  if (
    form === 'vector' &&
    values.every((each) => shape(each).form === 'scalar' || shape(each).form === 'vector')
  ) {
    const given = values.reduce((sum, each) => sum + shape(each).size, 0);
    if (given === size)
      return one(
        b.construct(
          name as Type,
          ...values.map((each) =>
            shape(each).form === 'scalar' ? convertScalar(b, each.parts[0]!, 'float') : each.parts[0]!,
          ),
        ),
      );
  }
  const scalars = values
    .flatMap((each) => componentsOf(b, each))
    .map((each) => convertScalar(b, each, base as Type));
  const needed = form === 'matrix' ? size * size : size;
  if (form === 'wholes' && scalars.length === 1)
    return { type: name, parts: new Array<Value>(size).fill(scalars[0]!) };
  if (
    scalars.length < needed ||
    (values.length > 1 && scalars.length > needed && shape(values.at(-1)!).size === 1)
  )
    return fail(e, `${type} needs ${needed} numbers and was given ${scalars.length}.`);
  return fromComponents(b, name, scalars.slice(0, needed));
};
