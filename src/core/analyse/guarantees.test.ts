import assert from 'node:assert/strict';
import { test } from 'node:test';
import { budgetProblem, FIRST_BUDGETS } from '../document/budgets.ts';
import type { Guarantee } from '../document/guarantees.ts';
import { NO_MOTIFS } from '../document/motif.ts';
import { parsePart } from '../document/parsePart.ts';
import { applyPatches } from '../document/patch.ts';
import { newPart, type PartOf } from '../document/project.ts';
import { sketchParameter as parameter, sketchShader } from '../document/sketch.ts';
import { changeParts } from '../edits/changeParts.ts';
import { driveRange } from '../edits/driveRange.ts';
import {
  addGuarantee,
  askAgain,
  budgetOf,
  budgetsOf,
  changeGuarantee,
  removeGuarantee,
  renameBudget,
  setBudgets,
  silence,
  workTo,
} from '../edits/checkEdits.ts';
import { keepGuarantees } from './guarantees.ts';
import { lookInto, wornPlainly } from './lookInto.ts';
import type { Worn } from './worn.ts';
import { shaderCost, shareOf } from './shaderCost.ts';

const burn = parameter('burn', 'float', [0.5], { min: 0, max: 2 });
const body = sketchShader(
  {
    mask: [['value', { x: 'step(burn, uv.x)' }]],
    over: [['value', { x: 'uv.x * burn' }]],
    nigh: [['value', { x: 'saturate(surfaceDistance) * burn' }]],
    grain: [['value', { x: 'valueNoise(uv * 4.0, 3, 4)' }]],
    slant: [['value', { x: 'valueNoise(uv * 4.3, 3, 4)' }]],
    place: [['value', { x: 'position.x' }]],
    later: [['value', { x: 'step(time, 2.0)' }]],
  },
  { opacity: 'mask', emission: 'vec3(over + nigh + grain + slant + place + later)' },
  [burn],
  { lit: false, alphaMode: 'blended' },
);
const shaderWith = (...guarantees: readonly Guarantee[]) =>
  newPart('shader', 'sh', 'Veil', { ...body, guarantees }) as PartOf<'shader'>;
const keep = (guarantee: Omit<Guarantee, 'id'>, shown = body) => {
  const shader = { ...shaderWith({ id: 'g', ...guarantee }) };
  const subject = lookInto(shader, NO_MOTIFS, [wornPlainly(shown.parameters)]);
  return keepGuarantees(subject!, FIRST_BUDGETS)[0]!;
};
const shows = (more: Partial<Guarantee>) => keep({ kind: 'shows', ...more });

test('what shows at a value, by opacity, by a strand, and at a time', () => {
  const gone = shows({ shows: 'nothing', parameter: 'p-burn', at: 1.5 });
  assert.deepEqual([gone.sentence, gone.holds, gone.figure], ['at burn = 1.5 nothing shows', true, '0.00 %']);
  // Of the square of uv, what lies right of a quarter.
  const some = shows({ shows: 'nothing', parameter: 'p-burn', at: 0.25 });
  assert.equal(some.holds, false);
  assert.ok(Math.abs(parseFloat(some.figure) - 75) < 0.5, some.figure);
  assert.equal(shows({ shows: 'all', parameter: 'p-burn', at: 0 }).holds, true);
  assert.equal(shows({ shows: 'all', parameter: 'p-burn', at: 0.25 }).holds, false);
  assert.equal(shows({ shows: 'nothing', parameter: 'p-burn', at: 0, strand: 's-over' }).holds, true);
  assert.equal(shows({ shows: 'all', at: 1, strand: 's-later' }).holds, true);
  assert.equal(shows({ shows: 'nothing', at: 3, strand: 's-later' }).holds, true);
});

test('where what stands near is known, what reads the distance to it is measured', () => {
  // A wall before the square of uv, half a metre off, in the whole of its box.
  const wall = {
    ...({ size: [2, 2, 2], low: [-2, -2, -2], high: [3, 3, 2], signed: false } as const),
    values: new Float32Array(8).fill(0.5),
  };
  const toMesh = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];
  const plain = wornPlainly(body.parameters);
  const worn = { ...plain, standing: { ...plain.standing, near: [{ volume: wall, toMesh }] } };
  const measured = (guarantee: Omit<Guarantee, 'id'>, on: readonly Worn[]) =>
    keepGuarantees(lookInto(shaderWith({ id: 'g', ...guarantee }), NO_MOTIFS, on)!, FIRST_BUDGETS)[0]!;
  const low = { kind: 'within', strand: 's-nigh', low: 0, high: 0.75 } as const;
  const found = measured(low, [worn]);
  // The distance by burn, which goes to 2.
  assert.deepEqual([found.holds, found.figure], [false, '0 … 1']);
  assert.equal(measured({ ...low, high: 1 }, [worn]).holds, true);
  assert.equal(measured(low, [worn, plain]).holds, null, 'of one of them it is not known');
  const shown = measured({ kind: 'shows', shows: 'all', parameter: 'p-burn', at: 2, strand: 's-nigh' }, [
    worn,
  ]);
  assert.deepEqual([shown.holds, shown.figure], [true, '100.00 %']);
});

test('what cannot be measured holds only where it holds whatever is read', () => {
  assert.equal(shows({ shows: 'nothing', parameter: 'p-burn', at: 0, strand: 's-nigh' }).holds, true);
  const open = shows({ shows: 'nothing', parameter: 'p-burn', at: 1, strand: 's-nigh' });
  assert.equal(open.holds, null);
  assert.match(open.told, /only the picture knows/);
  assert.equal(keep({ kind: 'within', strand: 's-nigh', low: 0, high: 2 }).holds, true);
  assert.equal(keep({ kind: 'within', strand: 's-nigh', low: 0, high: 1 }).holds, null);
  assert.match(shows({ shows: 'all', parameter: 'p-gone', at: 0 }).told, /not there any more/);
  assert.match(keep({ kind: 'tiles', strand: 's-place' }).told, /reads position/);
  assert.match(keep({ kind: 'cost', budget: 'watch' }).told, /no budget “watch”.*phone, handheld, desktop/);
});

test('numbers within bounds over every end of every range, tiles, and costs', () => {
  assert.equal(keep({ kind: 'within', strand: 's-mask', low: 0, high: 1 }).holds, true);
  const over = keep({ kind: 'within', strand: 's-over', low: 0, high: 1 });
  assert.deepEqual(
    [over.holds, /^It is (1\.9\d*|2) with burn at 2\.$/.test(over.told)],
    [false, true],
    over.told,
  );
  assert.equal(keep({ kind: 'tiles', strand: 's-grain' }).holds, true, 'noise of a period of four');
  const slant = keep({ kind: 'tiles', strand: 's-slant' });
  assert.ok(slant.holds === false && parseFloat(slant.figure) > 0.05, slant.figure);
  const numbers = keep({ kind: 'numbers' });
  assert.deepEqual([numbers.holds, numbers.told], [true, '2 steps read what only the picture knows.']);
  assert.equal(keep({ kind: 'cost', budget: 'phone' }).holds, true);
});

test('a shader costs what its source does, counted by hand', () => {
  const cost = (text: string, lit = false) => {
    const shader = sketchShader({ a: [['value', { x: text }]] }, { emission: 'a' }, [burn], { lit });
    const subject = lookInto(newPart('shader', 'sh', 'V', shader) as PartOf<'shader'>, NO_MOTIFS, []);
    return shaderCost(subject!.program, subject!.knobs);
  };
  const plain = cost('vec3(uv.x * burn + 1.0)');
  // A multiplication and an addition; uv is handed on; burn is a vector, and whatever the source declares besides.
  assert.deepEqual([plain.operations, plain.textureReads, plain.varyings, plain.passes], [2, 0, 1, 1]);
  assert.equal(plain.steps.get('a-0')!.arithmetic, 2);
  assert.equal(cost('vec3(uv.x * burn + 1.0) * 2.0').operations, 5, 'three numbers, three multiplications');
  const behind = cost('sceneColor(screenUv) * depthGap()');
  assert.deepEqual([behind.textureReads, behind.passes, behind.textures], [2, 3, 2]);
  const lit = cost('vec3(uv.x)', true);
  assert.equal(lit.operations, lit.lighting);
  assert.ok(lit.lighting > 200 && lit.lighting < 1000);
  const phone = FIRST_BUDGETS[0]!;
  assert.deepEqual(shareOf({ ...plain, passes: 6 }, phone), { figure: 'passes', share: 2 });
});

test('guarantees, answers and budgets are made, changed, named, taken out and read back', () => {
  const guarantee: Guarantee = { id: 'a', kind: 'numbers' };
  const after = (part: PartOf<'shader'>, edit: { patches: Parameters<typeof applyPatches>[1] }) =>
    ({ ...part, body: applyPatches(part.body, edit.patches).document }) as PartOf<'shader'>;
  const bare = newPart('shader', 'sh', 'Veil', body) as PartOf<'shader'>;
  let part = after(bare, addGuarantee(bare, guarantee));
  part = after(part, addGuarantee(part, { ...guarantee, id: 'c' }));
  part = after(part, addGuarantee(part, { ...guarantee, id: 'b' }, 'a'));
  assert.deepEqual(
    part.body.guarantees!.map(({ id }) => id),
    ['a', 'b', 'c'],
  );
  part = after(part, changeGuarantee(part, { id: 'b', kind: 'cost', budget: 'phone' }));
  const shared = newPart('shared', 'shared', 'Shared', {
    ...{ format: 'wicked-veil/shared', version: 1, values: {} },
  }) as PartOf<'shared'>;
  const renamed = changeParts(
    new Map([part, shared].map((each) => [each.id, each])),
    renameBudget([part, shared], shared, 'phone', 'old phone'),
  ).parts;
  const now = renamed.get('shared') as PartOf<'shared'>;
  assert.equal(budgetsOf(now)[0]!.name, 'old phone');
  assert.equal((renamed.get('sh') as PartOf<'shader'>).body.guarantees![1]!.budget, 'old phone');
  const working = { ...now, body: applyPatches(now.body, workTo(now, 'desktop').patches).document };
  assert.equal(budgetOf(working).name, 'desktop');
  assert.equal(budgetOf(null).name, 'phone');
  const none = { ...working, body: applyPatches(working.body, setBudgets(working, []).patches).document };
  assert.deepEqual(budgetsOf(none), FIRST_BUDGETS, 'with none of its own, those of every project');
  assert.match(budgetProblem([FIRST_BUDGETS[0]!, FIRST_BUDGETS[0]!])!.why, /Two budgets are called “phone”/);
  assert.match(budgetProblem([{ ...FIRST_BUDGETS[0]!, passes: 0 }])!.why, /passes should be above 0/);
  for (const id of ['a', 'b', 'c']) part = after(part, removeGuarantee(part, id));
  assert.deepEqual(part, bare);
  const answer = { check: 'unused-name', at: 'strand/s', note: 'kept' };
  part = after(part, silence(part, answer));
  assert.deepEqual(part.body.silenced, [answer]);
  assert.deepEqual(after(part, askAgain(part, answer)), bare);
  const wrong = parsePart('shader', {
    ...body,
    guarantees: [{ id: 'g', kind: 'within', strand: 's', low: 2, high: 1 }],
  });
  assert.match(wrong.problems[0]!.message, /lesser first/);
});

test('what is guaranteed at a value is guaranteed where that value is once it is driven from 0 to 1', () => {
  const shader = shaderWith({ id: 'g', kind: 'shows', shows: 'nothing', parameter: 'p-burn', at: 1.5 });
  const changes = driveRange([shader], shader, burn, [0.5, 1.5]);
  if (typeof changes === 'string') throw new Error(changes);
  const { parts } = changeParts(new Map([['sh', shader]]), changes);
  const after = parts.get('sh') as PartOf<'shader'>;
  assert.equal(after.body.guarantees![0]!.at, 1);
  const subject = lookInto(after, NO_MOTIFS, [])!;
  assert.equal(keepGuarantees(subject, FIRST_BUDGETS)[0]!.holds, true);
});
