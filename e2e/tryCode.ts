import type { Page } from '@playwright/test';
import { lowerCode, readCode } from '#core/lower/code/codeOperator.ts';
import { createBuilder, defineFunction } from '#core/program/builder.ts';
import { componentsOf } from '#core/program/types.ts';
import { createChance, randomArgument, runBoth, worstDifference } from './probe.ts';
import { runWgsl } from './runWgsl.ts';

const TYPES = { x: 'float', y: 'float', v: 'vec3', n: 'int' } as const;

/**
 * Runs `T shaped(float x, float y, vec3 v, int n)` as its author wrote it, as what is made of it in WebGL and in WebGPU,
 * and in the columns, on the same arguments.
 * @returns '' where all agree, else which does not, by how much and where
 */
export const tryCode = async (page: Page, text: string, bound: number): Promise<string> => {
  const { code, mistake } = readCode(text);
  if (!code) return `not read: ${mistake.message}`;
  const refused: string[] = [];
  const scope = { resolve: () => null, names: () => [], explain: () => null };
  const fn = defineFunction('probe', TYPES, (b, inputs) =>
    lowerCode(b, code, inputs, scope, (why) => refused.push(why)),
  );
  if (refused.length) return `not held: ${refused[0]!}`;
  const b = createBuilder();
  const asWritten = {
    ...{ id: -1, name: 'shaped', parameters: fn.parameters, locals: new Map() },
    result: b.constant(fn.result.type, new Array<number>(componentsOf(fn.result.type)).fill(0)),
    opaque: { source: text, declares: ['shaped'], main: 'shaped', why: '' },
  };
  const chance = createChance(41);
  const args = fn.parameters.map(({ type }) =>
    type === 'int'
      ? randomArgument(type, chance, [0, 7], [])
      : randomArgument(type, chance, [-3, 3], [0, 1, -1, 0.5, 0.25, 2]),
  );
  const { gpu, columns } = await runBoth(page, fn, args);
  const ways = [
    ['as written', (await runBoth(page, fn, args, asWritten)).gpu],
    ['in WebGL', gpu],
    ['in WebGPU', await runWgsl(page, fn, args)],
  ] as const;
  for (const [way, drawn] of ways) {
    const { worst, at } = worstDifference(drawn, columns);
    if (worst > bound) return `${way}: ${worst} apart at ${at}`;
  }
  return '';
};
