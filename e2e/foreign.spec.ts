import { expect, test, type Page } from '@playwright/test';
import { compileShader, programOf } from '#core/compileShader.ts';
import { emitWgsl } from '#core/emit/wgsl/emitWgsl.ts';
import { importGlsl } from '#core/exchange/importGlsl.ts';
import { analyseModule } from '#core/language/glsl/analyseModule.ts';
import { foreignFragments, foreignFunctions } from './corpus.ts';
import { securePage } from './securePage.ts';
import { tryCode } from './tryCode.ts';

let page: Page;
test.beforeAll(async ({ browser }) => {
  page = await securePage(browser);
});
test.afterAll(() => page.close());

/** Runs in the page: what the browser's compiler says of modules. */
const compileAll = async (codes: readonly string[]): Promise<string[]> => {
  const device = await (await navigator.gpu.requestAdapter())!.requestDevice();
  return Promise.all(
    codes.map(async (code) => {
      const { messages } = await device.createShaderModule({ code }).getCompilationInfo();
      return messages
        .filter((each) => each.type === 'error')
        .map((each) => `${each.lineNum}: ${each.message}`)
        .join('; ');
    }),
  );
};

test('fragments that nobody here wrote become WGSL that the browser compiles', async () => {
  const modules: { name: string; code: string }[] = [];
  for (const { name, text } of await foreignFragments()) {
    const { document } = importGlsl(text);
    if (!document) continue;
    const { program } = programOf(document);
    const { code, refused } = emitWgsl(program!, { surface: document.surface, title: name });
    expect(code, `${name}: ${refused ?? ''}`).not.toBeNull();
    expect(compileShader(document).diagnostics).toEqual([]);
    modules.push({ name, code: code! });
  }
  expect(modules.length).toBeGreaterThan(50);
  const said = await page.evaluate(
    compileAll,
    modules.map((each) => each.code),
  );
  said.forEach((each, i) => expect(each, `${modules[i]!.name}\n${modules[i]!.code}`).toBe(''));
});

/** Arguments by type, of numbers that leave nothing open. */
const ARGUMENTS: Readonly<Record<string, readonly string[]>> = {
  float: ['inside(x)', 'inside(y)', 'inside(v.x)', 'inside(v.y)'],
  vec2: ['inside(v).xy', 'inside(v).yz'],
  vec3: ['inside(v)', 'inside(v.zxy + x)', 'inside(v.yzx + y)'],
  vec4: ['vec4(inside(v), inside(x))', 'vec4(inside(y), inside(v))'],
  int: ['n'],
  bool: ['(x > 0.0)'],
};

/** These take a power of a base below 0, which docs/meaning.md decides, or wrap where a rounding decides the cell. */
const OPEN = /(cubic|quartic|quintic)-in-out|(quartic|quintic)-out|noise\/periodic/;

test('functions that nobody here wrote mean what they mean as written, in every back end', async () => {
  let tried = 0;
  const wrong: string[] = [];
  for (const { name, text } of foreignFunctions()) {
    const { code } = analyseModule(text);
    const { source } = code!.main;
    const used = new Map<string, number>();
    const args = source.parameters.map(({ type }) => {
      const at = used.get(type.name) ?? 0;
      used.set(type.name, at + 1);
      return ARGUMENTS[type.name]?.[at];
    });
    if (args.includes(undefined)) continue;
    const call = `${source.name}(${args.join(', ')})`;
    const inside = ['float', 'vec3'].map(
      (type) => `${type} inside(${type} p) { return fract(p) * 0.5 + 0.25; }`,
    );
    const wrapped = `${text}\n${inside.join('\n')}\n${source.returns.name} shaped(float x, float y, vec3 v, int n) { return ${call}; }`;
    if (OPEN.test(name)) continue;
    const said = await tryCode(page, wrapped, 1e-3);
    if (said) wrong.push(`${name}: ${said}`);
    tried += 1;
  }
  expect(wrong).toEqual([]);
  expect(tried).toBeGreaterThan(50);
});
