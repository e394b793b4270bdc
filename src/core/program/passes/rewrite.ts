import { createBuilder, type Builder, type Peephole } from '../builder.ts';
import { reachable, rootsOf, type Program, type Value } from '../value.ts';

/** Builds a value anew from inputs that were already rewritten. */
export type Visit = (b: Builder, value: Value, inputs: readonly Value[]) => Value;

/** Copies a value as it is. */
export const copy: Visit = (b, value, inputs) =>
  b.intern(value.op, value.type, inputs, value.payload, value.fn);

/** Builds values anew, inputs first. @returns what each became */
export const rewriteValues = (
  b: Builder,
  values: readonly Value[],
  visit: Visit,
): ReadonlyMap<Value, Value> => {
  const made = new Map<Value, Value>();
  for (const value of values)
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
  return made;
};

/** Builds a program anew. What nothing depends on any more is left behind. */
export const rewrite = (program: Program, peephole: Peephole, visit: Visit = copy): Program => {
  const made = rewriteValues(createBuilder(peephole), reachable(rootsOf(program)), visit);
  return {
    entries: program.entries,
    parameters: program.parameters,
    outputs: Object.fromEntries(
      Object.entries(program.outputs).map(([name, value]) => [name, made.get(value)!]),
    ),
    taps: program.taps.map((tap) => ({ ...tap, value: made.get(tap.value)! })),
  };
};
