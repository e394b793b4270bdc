import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { parser } from '@shaderfrog/glsl-parser';
import { parseModule } from '../language/glsl/parseModule.ts';
import { importGlsl } from './importGlsl.ts';

/** What is refused: the source, the line and column, the sentence. */
const REFUSED: readonly (readonly [string, string, RegExp])[] = [
  ['', '1:1', /There is no main here/],
  ['void main() {\n  gl_FragColor = vec4(1.0);\n', '1:13', /never closed/],
  [
    '\nuniform vec4 lights[300];\nvoid main() { gl_FragColor = lights[0]; }',
    '2:14',
    /has to have between 1 and 64 elements/,
  ],
  [
    `${Array.from({ length: 20 }, (_, i) => `uniform vec4 many${i}[32];`).join('')}void main() { gl_FragColor = ${Array.from({ length: 20 }, (_, i) => `many${i}[1]`).join(' + ')}; }`,
    '1:1',
    /come to more than 512 parameters/,
  ],
  [
    '\nuniform samplerCube sky;\nvoid main() { gl_FragColor = texture(sky, vec3(1.0)); }',
    '2:14',
    /is a samplerCube, which no parameter can be/,
  ],
  [
    'attribute vec3 at;\nvoid main() { gl_Position = vec4(at, 1.0); }',
    '2:15',
    /This is a vertex stage, for it writes gl_Position/,
  ],
  ['void main() { gl_FragColor = vec4(é); }', '1:35', /“é” has no meaning in GLSL/],
  [
    'float f(float x) { return f(x); }\nvoid main() { gl_FragColor = vec4(f(1.0)); }',
    '1:1',
    /f calls itself/,
  ],
  [
    'void main() { for (int i = 0; i < 1000000000; i++) {} gl_FragColor = vec4(1.0); }',
    '1:1',
    /goes round 1000000000 times/,
  ],
  ['out vec2 c;\nvoid main() { c = vec2(1.0); }', '1:1', /is a vec2; a surface's colour is a vec3 or a vec4/],
  ['#if 1\nvoid main() {}', '1:1', /This #if is never closed; add #endif/],
];

test('what cannot be imported says so, with a place', () => {
  for (const [source, place, said] of REFUSED) {
    const made = importGlsl(source);
    assert.equal(made.document, null, source);
    const [problem] = made.problems;
    assert.match(problem!.message, said, source);
    assert.equal(problem!.line, Number(place.split(':')[0]), `${source}: ${problem!.message}`);
  }
  assert.match(
    importGlsl('x'.repeat(5_000_000)).problems[0]!.message,
    /5000000 characters; at most 262144 are read/,
  );
});

// ---- the parser beside another's

/** Expressions and statements put together at random, all of them well formed. */
const text = (): fc.Arbitrary<string> => {
  const leaf = fc.constantFrom('a', 'b.x', '1.0', '2', 'p[1]', 'vec2(1.0)', 'sin(a)', 'true');
  const expression = fc.letrec<{ e: string }>((tie) => ({
    e: fc.oneof(
      { maxDepth: 4 },
      leaf,
      fc
        .tuple(tie('e'), fc.constantFrom('+', '-', '*', '/', '<', '==', '&&', '<<', '|'), tie('e'))
        .map((x) => x.join(' ')),
      tie('e').map((x) => `(${x})`),
      tie('e').map((x) => `-${x.replace(/^-/, ' -')}`),
      fc.tuple(tie('e'), tie('e'), tie('e')).map(([x, y, z]) => `(${x} ? ${y} : ${z})`),
      fc.tuple(tie('e'), tie('e')).map(([x, y]) => `max(${x}, ${y})`),
    ),
  })).e;
  const statement = fc.letrec<{ s: string }>((tie) => ({
    s: fc.oneof(
      { maxDepth: 3 },
      expression.map((x) => `a = ${x};`),
      expression.map((x) => `float c = ${x}, d;`),
      fc.tuple(expression, tie('s')).map(([x, s]) => `if (${x}) ${s}`),
      fc.tuple(expression, tie('s'), tie('s')).map(([x, s, t]) => `if (${x}) { ${s} } else ${t}`),
      tie('s').map((s) => `for (int i = 0; i < 4; i++) { ${s} }`),
      expression.map((x) => `while (${x}) { break; }`),
      fc.constant('return a;'),
      fc.constant(';'),
    ),
  })).s;
  return fc
    .array(statement, { maxLength: 4 })
    .map((list) => `float f(vec2 p, inout float a) { ${list.join(' ')} }`);
};

test('our parser takes what another parser of GLSL takes, and refuses what it refuses', () => {
  const takes = (source: string): boolean => {
    try {
      parser.parse(source, { quiet: true, stage: 'fragment' });
      return true;
    } catch {
      return false;
    }
  };
  fc.assert(
    fc.property(text(), fc.nat(), fc.boolean(), (source, at, breaks) => {
      // Half of them have one character taken out.
      const cut = source.indexOf('{') + (at % (source.length - source.indexOf('{')));
      const tried = breaks ? source.slice(0, cut) + source.slice(cut + 1) : source;
      const [ours, theirs] = [!parseModule(tried).mistake, takes(tried)];
      if (!breaks) assert.ok(ours && theirs, tried);
      else if (ours !== theirs) assert.ok(ours ? /else|\bint\b|\d[a-z]|float/.test(tried) : true, tried);
    }),
    { numRuns: 60, seed: 11 },
  );
});
