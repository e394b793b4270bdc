import { createChance } from '../probe.ts';

type Kind = 'float' | 'int' | 'bool' | 'vec2' | 'vec3' | 'float[3]' | 'Mark';

interface Name {
  readonly name: string;
  readonly kind: Kind;
  readonly isConst: boolean;
}

/** What every module has: a structure, variables beside the functions, and functions that change what they are handed. */
const HEAD = `struct Mark { float far; vec2 at; int count; };
const float KERNEL[3] = float[](0.25, 0.5, 0.25);
float glow = 0.5;
int calls;
float keep(int i, float x) { return x; }
float pass(float x) { return x; }
float turned(int i, float x) { return fract(x + float(i) * 0.125); }
float soften(float x) { return fract(x * 0.75 + 0.125); }
float soften(vec2 p) { return soften(p.x) + soften(p.y) * 0.5; }
float count(float x) {
  calls++;
  glow = fract(glow + x);
  return x + float(calls & 3);
}
bool grow(inout float x, int n) {
  if (n > 2) return false;
  x = fract(x + 0.375);
  return x > 0.5;
}
void part(vec3 v, out vec2 low, out float high) {
  low = v.xy;
  high = 0.25;
  if (v.z < 0.25) return;
  high = v.z;
}
Mark mark(vec2 p, int n) {
  Mark m = Mark(p.x, p.yx, n);
  if (n > 1) m.at.x += 0.5;
  return m;
}`;

/**
 * A function in GLSL with all that the language has, from a seed. It keeps to arithmetic that every driver rounds alike,
 * to what GLSL leaves open nowhere (it has no remainder of a number below 0), and to numbers that stay small, so that whatever comes out otherwise was read otherwise. One statement stands on a
 * line, for a failing one to be made smaller.
 */
export const randomCode = (seed: number): string => {
  const chance = createChance(seed * 2246822519 + 3);
  const below = (n: number) => Math.min(Math.floor(chance() * n), n - 1);
  const pick = <T>(list: readonly T[]): T => list[below(list.length)]!;
  const dyadic = () => String((below(33) - 16) / 8 + 0.0625);
  const lines: string[] = [];
  let names: Name[] = [
    ...(['x', 'y'] as const).map((name) => ({ name, kind: 'float' as const, isConst: false })),
    { name: 'v', kind: 'vec3', isConst: false },
    { name: 'n', kind: 'int', isConst: false },
    { name: 'glow', kind: 'float', isConst: false },
    { name: 'calls', kind: 'int', isConst: false },
  ];
  let made = 0;
  const named = (kind: Kind, free = false) =>
    names.filter((each) => each.kind === kind && !(free && each.isConst));

  /** Something of a kind that can be read, or changed: a name or a part of one. */
  const places = (kind: Kind, free: boolean): string[] => {
    const own = named(kind, free).map(({ name }) => name);
    const of = (whole: Kind, ...parts: string[]) =>
      named(whole, free).flatMap(({ name }) => parts.map((part) => name + part));
    const at = `[abs(${named('int')[below(named('int').length)]!.name}) % 3]`;
    if (kind === 'float')
      return [
        ...own,
        ...of('vec3', '.x', '.z', at),
        ...of('vec2', '.y'),
        ...of('float[3]', '[1]', at),
        ...of('Mark', '.far', '.at.x'),
      ];
    if (kind === 'vec2') return [...own, ...of('vec3', '.zx', '.yz'), ...of('Mark', '.at')];
    if (kind === 'int') return [...own, ...of('Mark', '.count')];
    return own;
  };
  const place = (kind: Kind, free = false): string | null => {
    const all = places(kind, free);
    return all.length ? pick(all) : null;
  };

  const value = (kind: Kind, depth = 2): string => {
    const v = (of: Kind) => value(of, depth - 1);
    const read = place(kind);
    if (depth <= 0 || (read && chance() < 0.25)) {
      if (read && chance() < 0.8) return read;
      depth = Math.min(depth, 0);
    }
    const simple: Readonly<Record<Kind, string>> = {
      ...{ float: dyadic(), int: String(below(9) - 3), bool: pick(['true', '(x > y)', '(n == 2)']) },
      ...{ vec2: `vec2(${dyadic()})`, vec3: `vec3(${dyadic()}, x, y)`, 'float[3]': 'KERNEL' },
      Mark: 'mark(vec2(x, y), n)',
    };
    if (depth <= 0) return simple[kind];
    switch (kind) {
      case 'float':
        return pick([
          () => `(${v('float')} ${pick(['+', '-', '*'])} ${v('float')})`,
          () => `${pick(['fract', 'floor', 'abs', 'soften', 'count', 'pass'])}(${v('float')})`,
          () => `${pick(['keep', 'turned'])}(${v('int')}, ${v('float')})`,
          // A shift by what may be past the word is left open; the lowest five bits are given.
          () => `float((${v('int')} >> (${v('int')} & 31)) & 7)`,
          () => `${pick(['min', 'max'])}(${v('float')}, ${v('float')})`,
          () => `(${v('bool')} ? ${v('float')} : ${v('float')})`,
          () => `float(${v('int')})`,
          () => `KERNEL[abs(${v('int')}) % KERNEL.length()]`,
          () => `soften(${v('vec2')})`,
          () => `mark(${v('vec2')}, ${v('int')}).${pick(['far', 'at.y'])}`,
          () => `dot(${v('vec2')}, vec2(0.5, 0.25))`,
        ])();
      case 'int':
        return pick([
          () => `(${v('int')} ${pick(['+', '-', '*', '&', '|', '^'])} ${v('int')})`,
          () => `(abs(${v('int')}) % 5)`,
          () => `(${v('int')} >> 1)`,
          () => `int(floor(clamp(${v('float')}, -9.0, 9.0)))`,
          () => `(${v('bool')} ? ${v('int')} : ${v('int')})`,
        ])();
      case 'bool': {
        const changed = named('float', true).map(({ name }) => name);
        return pick([
          () => `(${v('float')} ${pick(['<', '>', '<=', '>='])} ${v('float')})`,
          () => `(${v('int')} ${pick(['==', '!=', '<'])} ${v('int')})`,
          () => `(${v('bool')} ${pick(['&&', '||', '^^'])} ${v('bool')})`,
          () => `!${v('bool')}`,
          () => `grow(${pick(changed)}, ${v('int')})`,
          () => `(${v('vec2')} == ${v('vec2')})`,
        ])();
      }
      case 'vec2':
        return pick([
          () => `(${v('vec2')} ${pick(['+', '-', '*'])} ${v('vec2')})`,
          () => `vec2(${v('float')}, ${v('float')})`,
          () => `${v('vec3')}.${pick(['xy', 'zz', 'yx'])}`,
          () => `(${v('vec2')} * ${v('float')})`,
          // A sum of two is rounded alike in whatever order; of three it is not.
          () => `(mat2(0.5, 0.25, -0.25, 1.0) * ${v('vec2')})`,
        ])();
      case 'vec3':
        return pick([
          () => `(${v('vec3')} ${pick(['+', '-'])} ${v('vec3')})`,
          () => `vec3(${v('vec2')}, ${v('float')})`,
          () => `fract(${v('vec3')})`,
          () => `(${v('vec3')} * 0.5)`,
        ])();
      case 'float[3]':
        return `float[3](${v('float')}, ${v('float')}, ${v('float')})`;
      case 'Mark':
        return pick([
          () => `Mark(${v('float')}, ${v('vec2')}, ${v('int')})`,
          () => `mark(${v('vec2')}, ${v('int')})`,
        ])();
    }
  };
  /** Numbers are kept small wherever they are put down. */
  const kept = (kind: Kind): string =>
    kind === 'float' || kind === 'vec2' || kind === 'vec3'
      ? `clamp(${value(kind)}, -8.0, 8.0)`
      : kind === 'int'
        ? `clamp(${value(kind)}, -64, 64)`
        : value(kind);

  const KINDS: readonly Kind[] = ['float', 'float', 'int', 'bool', 'vec2', 'vec3', 'float[3]', 'Mark'];
  /** Names declared in the block that is being written: none is declared twice in one. */
  let declaredHere = new Set<string>();
  const declare = (indent: string, kind: Kind, written: string, isConst = false): string => {
    // Inside a block a name may hide one of the same kind outside it.
    const outer = names.filter((each) => each.kind === kind && /^[a-z]\d/.test(each.name));
    if (indent.length > 2 && outer.length && chance() < 0.2) {
      const { name } = pick(outer);
      if (!declaredHere.has(name)) {
        declaredHere.add(name);
        lines.push(`${indent}${kind} ${name} = ${written};`);
        return name;
      }
    }
    const name = `${kind.replace(/\W.*/, '')[0]!.toLowerCase()}${(made += 1)}`;
    lines.push(`${indent}${kind} ${name} = ${written};`);
    declaredHere.add(name);
    names = [...names, { name, kind, isConst }];
    return name;
  };
  const block = (indent: string, depth: number, inLoop: boolean, count: number): void => {
    const outer = names;
    const before = declaredHere;
    declaredHere = new Set();
    for (let i = 0; i < count; i += 1) statement(`${indent}  `, depth, inLoop);
    names = outer;
    declaredHere = before;
    lines.push(`${indent}}`);
  };
  const statement = (indent: string, depth: number, inLoop: boolean): void => {
    const line = (text: string) => lines.push(indent + text);
    const simple = [
      () => declare(indent, ...((kind) => [kind, kept(kind)] as const)(pick(KINDS))),
      () => {
        const kind = pick(KINDS);
        const to = place(kind, true);
        if (to) line(`${to} = ${kept(kind)};`);
      },
      () => line(`${place('float', true)!} ${pick(['+=', '-='])} fract(${value('float')});`),
      () => line(`${place('int', true)!}${pick(['++', '--'])};`),
      () => {
        const low = named('vec2', true)[0]?.name;
        if (low) line(`part(${value('vec3')}, ${low}, ${pick(named('float', true)).name});`);
      },
    ];
    const nested = [
      () => {
        line(`if (${value('bool')}) {`);
        block(indent, depth - 1, inLoop, 2);
        if (chance() < 0.5) return;
        lines[lines.length - 1] += ' else {';
        block(indent, depth - 1, inLoop, 2);
      },
      () => {
        const counter = `i${(made += 1)}`;
        const more = chance() < 0.4 ? ` && ${value('bool', 1)}` : '';
        // Some only fold, some never begin, some count by more than one or downwards.
        if (chance() < 0.35) {
          const [to, fold] = [place('float', true)!, pick(['keep', 'turned'])];
          const head = pick([
            `int ${counter} = 0; ${counter} < ${below(7)}; ${counter}++`,
            `int ${counter} = 0; ${counter} < ${1 + below(9)}; ${counter} += ${1 + below(3)}`,
            `int ${counter} = ${below(8)}; ${counter} > 0; ${counter} -= ${1 + below(3)}`,
            `int ${counter} = 0; ${counter} < 4 && ${counter} < abs(n) % 5; ++${counter}`,
          ]);
          return void line(`for (${head}) ${to} = ${fold}(${counter}, ${to});`);
        }
        const by = pick([`${counter}++`, `${counter} += 2`, `++${counter}`]);
        line(`for (int ${counter} = 0; ${counter} < ${below(5)}${more}; ${by}) {`);
        names = [...names, { name: counter, kind: 'int', isConst: true }];
        block(indent, depth - 1, true, 3);
        names = names.filter((each) => each.name !== counter);
      },
      () => {
        // Chromium's software driver dies of a switch in a loop that looks at a constant which is none of its labels.
        line(`switch ((${value('int')} ^ n) & 3) {`);
        const labels = [0, 1, 2, 3].sort(() => chance() - 0.5).slice(0, 2 + below(2));
        const fallback = below(labels.length + 1);
        labels.forEach((label, i) => {
          line(`  ${i === fallback ? 'default' : `case ${label}`}: {`);
          block(`${indent}  `, depth - 1, inLoop, 1);
          if (chance() < 0.6) lines[lines.length - 1] += ' break;';
        });
        line('}');
      },
    ];
    const leaving = [
      ...(inLoop ? ['break', 'continue'] : []),
      ...(chance() < 0.3 ? [`return ${value('vec3', 1)}`] : []),
    ];
    if (leaving.length && chance() < 0.15) line(`if (${value('bool')}) ${pick(leaving)};`);
    else if (depth > 0 && chance() < 0.35) pick(nested)();
    else pick(simple)();
  };
  for (let i = 0; i < 9; i += 1) statement('  ', 2, false);
  const all = `vec3(${names
    .filter((each) => each.kind === 'float')
    .map((each) => each.name)
    .join(' + ')}, float(calls) + ${place('float')!}, ${value('float')})`;
  return `${HEAD}\nvec3 shaped(float x, float y, vec3 v, int n) {\n${lines.join('\n')}\n  return clamp(${all}, -64.0, 64.0);\n}\n`;
};

/** The same with stretches of lines left out, the longest first. */
export function* smallerCode(text: string): Generator<string> {
  const lines = text.split('\n');
  const first = lines.findIndex((line) => line.includes(' shaped('));
  for (let count = lines.length - first - 3; count > 0; count -= 1)
    for (let at = first + 1; at + count < lines.length - 2; at += 1) {
      const left = lines.slice(at, at + count).join('\n');
      const depth = [...left].reduce(
        (sum, letter) => sum + Number(letter === '{') - Number(letter === '}'),
        0,
      );
      if (depth === 0) yield [...lines.slice(0, at), ...lines.slice(at + count)].join('\n');
    }
}
