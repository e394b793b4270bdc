import type { InputName } from '../../program/inputs.ts';

/** How one input is read in a stage. */
export interface InputRead {
  /** What it is made from, where its own name is not what is read. */
  readonly text?: string;
  /** Inputs that stand before it. */
  readonly needs?: readonly InputName[];
  /** What whoever draws hands over for it: uniforms of GLSL as they are declared, fields of WGSL's block by name. */
  readonly from?: readonly string[];
  /** Attributes of the mesh that it reads itself. */
  readonly mesh?: readonly string[];
  /** A function it calls that has to be written beside it. */
  readonly calls?: 'screenOf';
}

export type Reads = Readonly<Partial<Record<InputName, InputRead>>>;

/** Inputs with those that their reading needs, what is needed first. */
export const withNeeds = (names: Iterable<InputName>, reads: Reads): InputName[] => {
  const found = new Set<InputName>();
  const visit = (name: InputName) => {
    for (const need of reads[name]?.needs ?? []) visit(need);
    found.add(name);
  };
  for (const name of names) visit(name);
  return [...found];
};
