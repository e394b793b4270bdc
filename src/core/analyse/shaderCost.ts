import { LIGHTING, LIGHTS } from '../emit/glsl/lighting.ts';
import { emitGlsl } from '../emit/glsl/emitGlsl.ts';
import type { Budget, BudgetFigure } from '../document/budgets.ts';
import { freeze } from '../program/passes/freeze.ts';
import { settle } from '../program/passes/settle.ts';
import { isSampler } from '../program/types.ts';
import { reachable, shadingOf, writtenBy, type Program, type Value } from '../program/value.ts';
import { costOfValues, type Cost } from './cost.ts';
import { requirementsOf } from './requirements.ts';

/** What a shader comes to as a game takes it. */
export interface ShaderCost extends Readonly<Record<BudgetFigure, number>> {
  /** Of the operations, those that light the surface: a budget counts them, no step has them. */
  readonly lighting: number;
  /** Operations for each corner of a mesh. */
  readonly vertex: number;
  /** Pictures, curves and gradients, and what of the scene is read like one. */
  readonly textures: number;
  /** Each step's own share of a pixel's work, by step id. */
  readonly steps: ReadonlyMap<string, Cost>;
}

/** What each requirement has drawn once more before the surface is. */
const PASSES: ReadonlySet<string> = new Set(['sceneDepth', 'sceneColor', 'sceneLevels']);

/** Source is worth an operation for as many characters: what a call of opaque code is taken for, too. */
const CHARACTERS = 8;
/** Four lights, which is as many as there may be: what stands in the loop is run for each. */
const lightingCost = (): number => {
  const [before, each] = LIGHTING.split('for (int i') as [string, string];
  return Math.round((before.length + LIGHTS * each.length) / CHARACTERS);
};

const ROWS: Readonly<Record<string, number>> = { mat3: 3, mat4: 4 };
/** Vectors that a declaration takes before a driver packs several into one; samplers take none. */
const vectorsOf = (declaration: string): number => {
  const [, type, count] = /uniform (?:highp |mediump )?(\w+) \w+(?:\[(\d+)\])?/.exec(declaration) ?? [];
  if (!type || type.startsWith('sampler')) return 0;
  return (ROWS[type] ?? 1) * Number(count ?? 1);
};

/**
 * Counts what a shader comes to, in the source that is handed over: arithmetic in units of one addition, of the worst way
 * through it.
 * @param knobs numbers of the score, which are constants there
 */
export const shaderCost = (live: Program, knobs: ReadonlyMap<string, readonly number[]>): ShaderCost => {
  const program = settle(freeze(live, knobs));
  const { vertex, fragment } = emitGlsl(program, { purpose: 'handover', title: 'cost' });
  const pixel = reachable(writtenBy(program, 'fragment'));
  const all = costOfValues(pixel);
  const corner = costOfValues(reachable(writtenBy(program, 'vertex')));
  const byStep = new Map<string, Value[]>();
  for (const value of pixel) {
    const step = value.origin?.step;
    if (step) byStep.set(step, [...(byStep.get(step) ?? []), value]);
  }
  const lighting = shadingOf(program).lit ? lightingCost() : 0;
  const lines = (text: string): string[] => text.split('\n').map((line) => line.trim());
  const uniforms = new Set([...lines(vertex), ...lines(fragment)].filter((x) => x.startsWith('uniform ')));
  return {
    operations: Math.round(all.arithmetic + lighting),
    textureReads: all.textures,
    varyings: lines(fragment).filter((line) => /^(flat )?in /.test(line)).length,
    uniformVectors: [...uniforms].reduce((sum, each) => sum + vectorsOf(each), 0),
    passes: 1 + requirementsOf(program).filter((each) => PASSES.has(each)).length,
    lighting,
    vertex: Math.round(corner.arithmetic),
    textures: new Set(
      pixel.filter((value) => isSampler(value.type) && value.op !== 'argument').map((each) => each.payload),
    ).size,
    steps: new Map([...byStep].map(([step, values]) => [step, costOfValues(values)])),
  };
};

/** How much of a budget is used up: the greatest share of any of its figures, and which that is. */
export const shareOf = (
  cost: Readonly<Record<BudgetFigure, number>>,
  { name: _, ...most }: Budget,
): { readonly share: number; readonly figure: BudgetFigure } =>
  (Object.keys(most) as BudgetFigure[])
    .map((figure) => ({ figure, share: cost[figure] / most[figure] }))
    .reduce((a, b) => (b.share > a.share ? b : a));
