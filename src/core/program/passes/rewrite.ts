import { createBuilder, type Builder } from '../builder.ts';
import { reachable, rootsOf, type Program, type Value } from '../value.ts';

/** Builds a value anew from inputs that were already rewritten. */
export type Visit = (b: Builder, value: Value, inputs: readonly Value[]) => Value;

/** Copies a value as it is. */
export const copy: Visit = (b, value, inputs) =>
  b.within(value.origin, () => b.intern(value.op, value.type, inputs, value.payload, value.fn));

/** Runs a program through `visit`, inputs first. What nothing depends on any more is left behind. */
export const rewrite = (program: Program, visit: Visit): Program => {
  const b = createBuilder();
  const made = new Map<Value, Value>();
  for (const value of reachable(rootsOf(program)))
    made.set(
      value,
      b.within(value.origin, () =>
        visit(
          b,
          value,
          value.inputs.map((input) => made.get(input)!),
        ),
      ),
    );
  return {
    parameters: program.parameters,
    outputs: Object.fromEntries(
      Object.entries(program.outputs).map(([name, value]) => [name, made.get(value)!]),
    ),
    taps: program.taps.map((tap) => ({ ...tap, value: made.get(tap.value)! })),
  };
};
