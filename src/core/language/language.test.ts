import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { readArithmetic } from './arithmetic.ts';
import { nearestName } from './nearest.ts';
import { parseExpression } from './parseExpression.ts';
import { printExpression } from './printExpression.ts';
import { nameProblem } from './names/reserved.ts';
import { ASSIGNS, BINDS, childrenOf, type Expression } from './syntax.ts';
import { OPERATOR_NAMES } from '../operators/catalogue.ts';

const parse = (text: string): Expression => {
  const { expression, mistake } = parseExpression(text);
  assert.ok(expression, mistake?.message);
  return expression;
};
const mistakeIn = (text: string) => {
  const { mistake } = parseExpression(text);
  assert.ok(mistake, `“${text}” should not parse`);
  return mistake;
};

/** Expressions with every place at 0, so that trees compare by shape alone. */
const at = { from: 0, to: 0 };
const name = fc.stringMatching(/^[a-z][a-z0-9]{0,5}$/).filter((text) => !['true', 'false'].includes(text));
const literal = fc.oneof(
  fc
    .double({ min: 0, max: 1e30, noNaN: true })
    .map((value) => ({ ...at, kind: 'literal' as const, type: 'float' as const, value })),
  fc.nat().map((value) => ({ ...at, kind: 'literal' as const, type: 'int' as const, value })),
  fc.nat().map((value) => ({ ...at, kind: 'literal' as const, type: 'uint' as const, value })),
  fc.boolean().map((yes) => ({ ...at, kind: 'literal' as const, type: 'bool' as const, value: Number(yes) })),
);
const { expression } = fc.letrec<{ expression: Expression }>((tie) => {
  const inner = tie('expression');
  return {
    expression: fc.oneof(
      { depthSize: 'small', withCrossShrink: true },
      literal,
      name.map((each) => ({ ...at, kind: 'name' as const, name: each })),
      fc
        .record({
          kind: fc.constant('member' as const),
          object: inner,
          member: fc.constantFrom('x', 'rgb', 'st'),
        })
        .map((e) => ({ ...at, memberAt: at, ...e })),
      fc
        .record({ kind: fc.constant('index' as const), object: inner, index: inner })
        .map((e) => ({ ...at, ...e })),
      fc
        .record({ kind: fc.constant('call' as const), callee: name, args: fc.array(inner, { maxLength: 3 }) })
        .map((e) => ({ ...at, calleeAt: at, ...e })),
      fc
        .record({
          kind: fc.constant('unary' as const),
          sign: fc.constantFrom(
            '+' as const,
            '-' as const,
            '!' as const,
            '~' as const,
            '++' as const,
            '--' as const,
          ),
          operand: inner,
        })
        .map((e) => ({ ...at, ...e })),
      fc
        .record({
          kind: fc.constant('postfix' as const),
          sign: fc.constantFrom('++' as const, '--' as const),
          operand: inner,
        })
        .map((e) => ({ ...at, ...e })),
      fc
        .record({
          kind: fc.constant('binary' as const),
          sign: fc.constantFrom(...Object.keys(BINDS)),
          left: inner,
          right: inner,
        })
        .map((e) => ({ ...at, ...e })),
      fc
        .record({ kind: fc.constant('conditional' as const), condition: inner, yes: inner, no: inner })
        .map((e) => ({ ...at, ...e })),
      fc
        .record({
          kind: fc.constant('assignment' as const),
          sign: fc.constantFrom(...ASSIGNS),
          target: inner,
          value: inner,
        })
        .map((e) => ({ ...at, ...e })),
      fc
        .record({ kind: fc.constant('sequence' as const), first: inner, second: inner })
        .map((e) => ({ ...at, ...e })),
    ) as fc.Arbitrary<Expression>,
  };
});
const shape = (e: Expression): unknown =>
  JSON.parse(
    JSON.stringify(e, (key, value: unknown) =>
      ['from', 'to', 'memberAt', 'calleeAt'].includes(key) ? undefined : value,
    ),
  );

test('printing a tree and parsing it again gives the same tree', () => {
  fc.assert(
    fc.property(expression, (e) => {
      assert.deepEqual(shape(parse(printExpression(e))), shape(e));
    }),
    { numRuns: 1500 },
  );
});

test('every part of an expression knows the stretch of source it came from', () => {
  const text = 'mix(a.xy, b [ 1 ], t > 0.5 ? 1.0 : -x) * 2.0';
  const check = (e: Expression) => {
    assert.deepEqual(shape(parse(text.slice(e.from, e.to))), shape(e));
    childrenOf(e).forEach(check);
  };
  check(parse(text));
});

test('signs bind as GLSL binds them', () => {
  for (const [text, same] of [
    ['a + b * c', 'a + (b * c)'],
    ['a - b - c', '(a - b) - c'],
    ['a && b ^^ c || d', '((a && (b)) ^^ c) || d'],
    ['a ? b : c ? d : e', 'a ? b : (c ? d : e)'],
    ['-a.x', '-(a.x)'],
    ['a << 1 + 2', 'a << (1 + 2)'],
    ['a = b = c', 'a = (b = c)'],
  ] as const)
    assert.deepEqual(shape(parse(text)), shape(parse(same)), text);
});

test('a mistake says what is wrong and where', () => {
  assert.deepEqual(mistakeIn('mix(a, b'), {
    from: 3,
    to: 4,
    message: 'This bracket is never closed; add ).',
    fix: { label: 'add )', text: ')', atEnd: true },
  });
  assert.match(mistakeIn('a × b').message, /written \* here/);
  assert.equal(mistakeIn('a × b').from, 2);
  assert.match(mistakeIn('1 +').message, /missing at the end: a value/);
  assert.match(mistakeIn('a b').message, /an operator such as/);
  assert.match(mistakeIn('2cells').message, /cannot begin with a digit/);
  assert.match(mistakeIn('a)').message, /closes nothing/);
  assert.match(mistakeIn('').message, /no expression here yet/);
  assert.match(mistakeIn('/* open').message, /never closed/);
  assert.match(mistakeIn('5000000000').message, /32 bits/);
  assert.match(mistakeIn('🔥').message, /no meaning/);
});

test('nesting and length have limits, with a sentence and no crash', () => {
  assert.match(mistakeIn('('.repeat(10_000) + 'x' + ')'.repeat(10_000)).message, /10000|characters|deep/);
  assert.match(mistakeIn('-'.repeat(1).concat('(-'.repeat(300), 'x', ')'.repeat(300))).message, /deep/);
  assert.match(mistakeIn(`${'x + '.repeat(9999)}x`).message, /characters/);
});

test('number fields do sums', () => {
  assert.equal(readArithmetic('3/8'), 0.375);
  assert.equal(readArithmetic('−2 * (1 + .5)'), -3);
  assert.equal(readArithmetic('0,5'), 0.5);
  for (const text of ['x', '1/0', '', 'sin(1)', 'true']) assert.equal(readArithmetic(text), null, text);
});

test('names that GLSL or JavaScript would trip over are refused with the reason', () => {
  const problem = (text: string) => nameProblem(text, OPERATOR_NAMES);
  assert.equal(problem('edgeWidth'), null);
  for (const [text, why] of [
    ['', /needs a name/],
    ['x'.repeat(10_000), /10000 characters/],
    ['__proto__', /two underscores/],
    ['gl_x', /gl_/],
    ['vec3', /taken/],
    ['time', /taken/],
    ['worley', /operator/],
    ['🔥', /cannot be a name/],
    ['edge width', /cannot be a name/],
    ['constructor', /taken/],
  ] as const)
    assert.match(problem(text) ?? '', why, text);
});

test('the nearest name is found, and none when nothing is near', () => {
  assert.equal(nearestName('brun', ['burn', 'speed']), 'burn');
  assert.equal(nearestName('Burn', ['burn', 'born']), 'burn');
  assert.equal(nearestName('zzz', ['burn', 'speed']), null);
});
