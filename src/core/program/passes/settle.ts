import { createBuilder, nextFunction, type Builder } from '../builder.ts';
import { functionsOf, reachable, rootsOf, type Program, type ProgramFunction, type Value } from '../value.ts';
import { peephole } from './peephole.ts';
import { copy, rewrite, rewriteValues, type Visit } from './rewrite.ts';

/** For each parameter of a function, the constant that all calls met so far give it, or null where they differ. */
type ConstantArguments = (Value | null | undefined)[];

const areSame = (a: Value, b: Value): boolean =>
  a.type === b.type &&
  (a.payload as readonly number[]).every((x, i) => Object.is(x, (b.payload as readonly number[])[i]));

/** The input of a call or a loop that a parameter is given; a loop gives its counter and its state itself. */
const inputFor = (call: Value, parameter: number): Value | null =>
  call.op === 'iterate' && parameter < 2 ? null : call.inputs[parameter]!;

const noteCalls = (values: readonly Value[], given: Map<ProgramFunction, ConstantArguments>): void => {
  for (const call of values) {
    if (!call.fn) continue;
    const known = given.get(call.fn);
    const now = call.fn.parameters.map((_, i) => {
      const input = inputFor(call, i);
      if (input?.op !== 'constant' || call.fn!.opaque) return null;
      const before = known?.[i];
      return before === undefined || (before && areSame(before, input)) ? input : null;
    });
    given.set(call.fn, now);
  }
};

/** Rounds of a loop that are written one after another: fewer than this cost more to count than to run. */
const MOST_ROUNDS = 4;

/** A loop of a few rounds becomes as many calls; anything else stays as it is. */
const unroll: Visit = (b, value, inputs) => {
  const [count, initial, ...rest] = inputs;
  if (value.op !== 'iterate' || count!.op !== 'constant') return copy(b, value, inputs);
  const rounds = (count!.payload as readonly number[])[0]!;
  if (rounds > MOST_ROUNDS) return copy(b, value, inputs);
  let state = initial!;
  for (let i = 0; i < rounds; i += 1) state = b.call(value.fn!, b.int(i), state, ...rest);
  return state;
};

/** A function's body being rewritten. */
interface Body {
  readonly result: Value;
  readonly locals: ReadonlyMap<Value, string>;
}

const rewriteBody = ({ result, locals }: Body, visit: Visit): Body => {
  const made = rewriteValues(createBuilder(peephole), reachable([result]), visit);
  const names = new Map<Value, string>();
  for (const [value, name] of locals) {
    const now = made.get(value);
    if (now && !names.has(now)) names.set(now, name);
  }
  return { result: made.get(result)!, locals: names };
};

/**
 * Makes functions that were written for the general case the ones this program needs: a parameter that every call
 * gives the same number is that number, and a loop of a few rounds is those rounds.
 */
export const settle = (general: Program): Program => {
  const program = rewrite(general, peephole, unroll);
  const values = reachable(rootsOf(program));
  const calleesFirst = functionsOf(values);
  const given = new Map<ProgramFunction, ConstantArguments>();
  noteCalls(values, given);
  const bodies = new Map<ProgramFunction, Body>();
  for (const fn of calleesFirst.toReversed()) {
    const numbers = given.get(fn);
    // What the constants of its callers left uncalled is left behind.
    if (fn.opaque || !numbers) continue;
    const body = rewriteBody(fn, (b, value, inputs) => {
      const number = value.op === 'argument' ? numbers[value.payload as number] : null;
      return number ? b.constant(number.type, number.payload as readonly number[]) : unroll(b, value, inputs);
    });
    bodies.set(fn, body);
    noteCalls(reachable([body.result]), given);
  }

  const settled = new Map<ProgramFunction, ProgramFunction>();
  const keep = (fn: ProgramFunction, i: number): boolean => !given.get(fn)![i];
  /** Calls what was settled, with what is still to be given. */
  const recall = (b: Builder, value: Value, inputs: readonly Value[]): Value => {
    const fn = value.fn && settled.get(value.fn);
    if (!fn) return copy(b, value, inputs);
    const kept = inputs.filter((_, i) => keep(value.fn!, i));
    return b.intern(value.op, value.type, kept, value.payload, fn);
  };
  for (const fn of calleesFirst) {
    const body = bodies.get(fn);
    if (!body) continue;
    const places = fn.parameters.map(
      (_, i) => fn.parameters.slice(0, i).filter((__, k) => keep(fn, k)).length,
    );
    const made = rewriteBody(body, (b, value, inputs) =>
      value.op === 'argument'
        ? b.argument(value.type, places[value.payload as number]!)
        : recall(b, value, inputs),
    );
    const parameters = fn.parameters.filter((_, i) => keep(fn, i));
    settled.set(fn, { ...fn, ...made, id: nextFunction(), parameters });
  }
  return rewrite(program, peephole, recall);
};
