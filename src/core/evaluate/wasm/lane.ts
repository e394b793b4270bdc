import type { Code, Instruction, Part } from './code.ts';

/** Leaves one component of a result on the stack, from the same component of each input. */
export type Lane = (code: Code, x: Part, y: Part, z: Part) => void;
export type Unary = (code: Code, x: Part) => void;
export type Binary = (code: Code, x: Part, y: Part) => void;

export const unary =
  (instruction: Instruction): Unary =>
  (code, x) => {
    code.get(x);
    code.op(instruction);
  };
export const binary =
  (instruction: Instruction): Binary =>
  (code, x, y) => {
    code.get(x, y);
    code.op(instruction);
  };
/** What `yes` leaves on the stack where what `ask` leaves is true, else what `no` leaves; both are computed. */
export const choose = (code: Code, yes: () => void, no: () => void, ask: () => void): void => {
  yes();
  no();
  ask();
  code.op('select');
};
/** Leaves a float that is known beforehand. */
export const f32 = (code: Code, x: number) => () => code.constant('f32', x);
