import { isSampler } from '../../program/types.ts';
import { frameValuesOf } from '../../program/passes/rates.ts';
import type { Program, Value } from '../../program/value.ts';
import type { Line } from '../source/dialect.ts';
import { joined } from '../source/writeStage.ts';
import { writeFragment } from './fragmentStage.ts';
import type { EmitOptions } from './options.ts';
import { layOut, readLive, type LiveLayout } from './liveLayout.ts';
import { packLifetime } from './packLifetime.ts';
import { declaredName, type Handed } from './uniforms.ts';
import { writeVertex } from './vertexStage.ts';

export interface GlslSource {
  readonly vertex: string;
  readonly fragment: string;
  /** The step that each line of the fragment source comes from. */
  readonly fragmentSteps: readonly (string | null)[];
  /** Where code that runs as it is written stands in the fragment source: its step, its first line and its last, from 1. */
  readonly written: readonly { readonly step: string; readonly from: number; readonly to: number }[];
  /** Present in live source: what to compute each frame, and where to put it. */
  readonly layout: LiveLayout;
  /** Names of the textures, curves and gradients that the source samples, each a sampler’s uniform. */
  readonly textures: readonly string[];
  /** Names of the uniforms that are not the author's, and of the mesh's attributes. */
  readonly builtIn: readonly string[];
}

const NOTHING_LIVE: LiveLayout = { slots: [], floats: 0, ints: 0 };

/** Writes a program as GLSL ES 3.00, with the author's names, in the author's order. */
export const emitGlsl = (program: Program, options: EmitOptions): GlslSource => {
  const live = options.purpose === 'live';
  const layout = live ? layOut(frameValuesOf(program)) : NOTHING_LIVE;
  const handed: Handed = { live, layout, lifetime: packLifetime(program.parameters) };
  const packed = new Map(layout.slots.map((slot) => [slot.value, readLive(slot)]));
  const outside = (value: Value): string | null => {
    const slot = packed.get(value);
    if (slot !== undefined || value.op !== 'parameter') return slot ?? null;
    const name = value.payload as string;
    return (live ? undefined : handed.lifetime.reads.get(name)) ?? name;
  };
  const fragment = writeFragment(program, options, handed, outside);
  const vertex = writeVertex(program, options, handed, outside, fragment.varyings);
  const own = new Set(program.parameters.map((each) => each.name));
  const given = [...vertex.uniforms, ...fragment.uniforms, ...vertex.attributes].map(declaredName);
  return {
    vertex: vertex.text,
    fragment: joined(fragment.lines),
    fragmentSteps: fragment.lines.map((line) => line.step),
    written: writtenIn(fragment.lines),
    layout,
    textures: program.parameters.filter((each) => isSampler(each.type)).map((each) => each.name),
    builtIn: [...new Set(given)].filter((name) => !own.has(name)).sort(),
  };
};

/** The stretches of lines that are as an author wrote them. */
const writtenIn = (lines: readonly Line[]): GlslSource['written'] =>
  lines.flatMap(({ asWritten, step }, i) => {
    if (!asWritten || step === null || lines[i - 1]?.asWritten) return [];
    const past = lines.findIndex((line, k) => k > i && !line.asWritten);
    return [{ step, from: i + 1, to: past }];
  });
