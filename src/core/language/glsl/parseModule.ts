import { fail, SourceError, type Mistake, type Span } from '../mistake.ts';
import { nearestName } from '../nearest.ts';
import type { Expression } from '../syntax.ts';
import { createExpressionReader, type ExpressionReader } from '../parseExpression.ts';
import { tokenize } from '../tokens.ts';
import type {
  Brackets,
  Declaration,
  Declared,
  FunctionParameter,
  FunctionSource,
  Global,
  Module,
  Statement,
  Structure,
  SwitchSection,
  TypeName,
} from './syntax.ts';

export const TYPE_NAMES: ReadonlySet<string> = new Set(
  'void float int uint bool vec2 vec3 vec4 ivec2 ivec3 ivec4 uvec2 uvec3 uvec4 bvec2 bvec3 bvec4 mat2 mat3 mat4 mat2x2 mat2x3 mat2x4 mat3x2 mat3x3 mat3x4 mat4x2 mat4x3 mat4x4 sampler2D sampler3D samplerCube sampler2DArray sampler2DShadow isampler2D usampler2D'.split(
    ' ',
  ),
);
const QUALIFIERS: ReadonlySet<string> = new Set(
  'const uniform in out inout attribute varying centroid flat smooth invariant highp mediump lowp'.split(' '),
);
const PRECISIONS: ReadonlySet<string> = new Set(['highp', 'mediump', 'lowp']);

export type ParsedModule =
  | { readonly module: Module; readonly mistake?: undefined }
  | { readonly module?: undefined; readonly mistake: Mistake };

/**
 * Parses whole GLSL: functions, constants, uniforms and structures, in ES 3.00 or 1.00.
 * @returns the module, or the first mistake with its place; never throws
 */
export const parseModule = (text: string): ParsedModule => {
  try {
    return { module: readModule(text) };
  } catch (error) {
    if (error instanceof SourceError) return { mistake: error.mistake };
    throw error;
  }
};

const readModule = (text: string): Module => {
  const r = createExpressionReader(tokenize(text));
  const structs: Structure[] = [];
  const types = new Set(TYPE_NAMES);
  const functions: FunctionSource[] = [];
  const globals: Global[] = [];
  const read = createStatementReader(r, types);

  while (r.peek().kind !== 'end') {
    const { from } = r.peek();
    if (r.accept(';')) continue;
    if (r.peek().text === 'precision') {
      while (!r.accept(';')) if (r.next().kind === 'end') r.expected('a semicolon');
      continue;
    }
    if (r.peek().text === 'struct') {
      structs.push(readStruct(r, read, from));
      types.add(structs.at(-1)!.name);
      continue;
    }
    const qualifiers = read.qualifiers();
    if (qualifiers.includes('uniform') && r.peek(1).text === '{') {
      const { structure, instance } = readBlock(r, read, from);
      const { name: of, to } = structure;
      if (instance) {
        structs.push(structure);
        types.add(of);
        const type = { name: of, brackets: null, from, to };
        globals.push({ qualifiers, type, names: [instance], from, to });
      } else
        for (const { name, type, brackets } of structure.fields)
          globals.push({
            qualifiers,
            type,
            names: [{ ...type, name, brackets, value: null }],
            from: type.from,
            to,
          });
      continue;
    }
    const type = read.type();
    const name = read.name('a name');
    if (r.isSign('(')) functions.push(...readFunction(r, read, type, name, from));
    else globals.push({ qualifiers, type, names: read.declared(name), from, to: read.semicolon() });
  }
  return { functions, globals, structs };
};

const readStruct = (r: ExpressionReader, read: StatementReader, from: number): Structure => {
  r.next();
  const structure = readFields(r, read, from);
  return { ...structure, to: read.semicolon() };
};

/** uniform Block { … } name; a structure that is handed over, or without a name its fields one by one. */
const readBlock = (
  r: ExpressionReader,
  read: StatementReader,
  from: number,
): { readonly structure: Structure; readonly instance: Declared | null } => {
  const structure = readFields(r, read, from);
  const [instance = null] = r.isSign(';') ? [] : read.declared(read.name('the block’s name'));
  return { structure: { ...structure, to: read.semicolon() }, instance };
};

const readFields = (r: ExpressionReader, read: StatementReader, from: number): Structure => {
  const { text: name } = read.name('the structure’s name');
  const opened = r.peek();
  if (!r.accept('{')) r.expected('{ and the structure’s fields');
  const fields: Structure['fields'][number][] = [];
  while (!r.isSign('}')) {
    if (r.peek().kind === 'end') fail(opened, 'This brace is never closed; add }.');
    read.qualifiers();
    const type = read.type();
    for (const { name: field, brackets, value } of read.declared(read.name('a field’s name'))) {
      if (value) fail(value, 'A field of a structure has no value of its own.');
      fields.push({ name: field, type, brackets });
    }
    read.semicolon();
  }
  const { to } = r.next();
  return { name, fields, fieldsAt: { from: opened.from, to }, from, to };
};

/** A function, or none for a prototype that is declared ahead. */
const readFunction = (
  r: ExpressionReader,
  read: StatementReader,
  returns: TypeName,
  name: Span & { text: string },
  from: number,
): FunctionSource[] => {
  const opened = r.next();
  const parameters: FunctionParameter[] = [];
  if (r.peek().text === 'void' && r.peek(1).text === ')') r.next();
  if (!r.isSign(')'))
    do {
      const start = r.peek().from;
      const qualifiers = read.qualifiers();
      const type = read.type();
      // A parameter that is not read needs no name, and in a prototype none does.
      const unnamed = r.isSign(',') || r.isSign(')') || r.isSign('[');
      const each = unnamed
        ? { text: `unnamed${parameters.length}`, from: r.peek().from, to: r.peek().from }
        : read.name('the parameter’s name');
      const brackets = read.brackets();
      parameters.push({
        way: qualifiers.includes('inout') ? 'inout' : qualifiers.includes('out') ? 'out' : 'in',
        type,
        name: each.text,
        brackets: brackets ?? type.brackets,
        from: start,
        to: each.to,
      });
    } while (r.accept(','));
  const parametersEnd = r.peek().from;
  r.close(')', opened);
  if (r.accept(';')) return [];
  if (!r.isSign('{')) r.expected(`{ and what ${name.text} does`);
  const bodyFrom = r.peek().from;
  const { body, to } = read.block();
  return [
    {
      ...{ name: name.text, nameAt: { from: name.from, to: name.to }, returns, parameters, parametersEnd },
      ...{ body, bodyAt: { from: bodyFrom, to }, from, to },
    },
  ];
};

interface StatementReader {
  readonly qualifiers: () => string[];
  readonly type: () => TypeName;
  readonly name: (what: string) => Span & { text: string };
  /** Reads [ … ] where it stands. */
  readonly brackets: () => Brackets | null;
  readonly declared: (first: Span & { text: string }) => Declared[];
  /** Where the statement ends. */
  readonly semicolon: () => number;
  readonly block: () => { readonly body: readonly Statement[]; readonly to: number };
}

const createStatementReader = (r: ExpressionReader, types: ReadonlySet<string>): StatementReader => {
  const semicolon = (): number => {
    const { to } = r.peek();
    if (!r.accept(';')) r.expected('a semicolon');
    return to;
  };
  const qualifiers = (): string[] => {
    const found: string[] = [];
    for (;;) {
      const { text } = r.peek();
      if (text === 'layout') {
        r.next();
        const opened = r.next();
        while (!r.isSign(')'))
          if (r.next().kind === 'end') fail(opened, 'This bracket is never closed; add ).');
        r.next();
        found.push('layout');
      } else if (r.peek().kind === 'name' && QUALIFIERS.has(text)) found.push(r.next().text);
      else return found;
    }
  };
  const brackets = (): Brackets | null => {
    const opened = r.peek();
    if (!r.accept('[')) return null;
    const length = r.isSign(']') ? null : r.readSequence();
    r.close(']', opened);
    if (r.isSign('[')) fail(r.peek(), 'GLSL ES 3.00 has no arrays of arrays.');
    return { length };
  };
  const type = (): TypeName => {
    const token = r.peek();
    if (token.kind !== 'name' || !types.has(token.text)) {
      const near = token.kind === 'name' ? nearestName(token.text, types) : null;
      fail(
        token,
        token.kind === 'end'
          ? 'Something is missing at the end: a type such as float.'
          : `Here a type should stand, not “${token.text}”.${near ? ` Did you mean ${near}?` : ''}`,
        near ? { label: `change to ${near}`, text: near } : undefined,
      );
    }
    r.next();
    return { name: token.text, brackets: brackets(), from: token.from, to: token.to };
  };
  const name = (what: string) => {
    const token = r.peek();
    if (token.kind !== 'name') r.expected(what);
    return r.next();
  };
  const declared = (first: Span & { text: string }): Declared[] => {
    const list: Declared[] = [];
    for (let at = first; ; at = name('a name')) {
      const found = brackets();
      const value = r.accept('=') ? r.readAssignment() : null;
      list.push({ name: at.text, brackets: found, value, from: at.from, to: at.to });
      if (!r.accept(',')) return list;
    }
  };

  const startsDeclaration = (): boolean => {
    const { kind, text } = r.peek();
    if (kind !== 'name') return false;
    if (text === 'const' || PRECISIONS.has(text)) return true;
    if (!types.has(text)) return false;
    const after = r.peek(1);
    return after.kind === 'name' || after.text === '[';
  };
  const declaration = (): Declaration => {
    const { from } = r.peek();
    const found = qualifiers();
    const of = type();
    const names = declared(name('a name'));
    return { kind: 'declaration', isConst: found.includes('const'), type: of, names, from, to: semicolon() };
  };

  const inBrackets = (): ReturnType<ExpressionReader['readSequence']> => {
    const opened = r.peek();
    if (!r.accept('(')) r.expected('( and a condition');
    const condition = r.readSequence();
    r.close(')', opened);
    return condition;
  };

  const block = () => {
    const opened = r.next();
    const body: Statement[] = [];
    while (!r.isSign('}')) {
      if (r.peek().kind === 'end')
        fail(opened, 'This brace is never closed; add }.', { label: 'add }', text: '}', atEnd: true });
      body.push(statement());
    }
    return { body, to: r.next().to };
  };

  const loop = (from: number): Statement => {
    const word = r.next().text;
    if (word === 'while') {
      const condition = inBrackets();
      const body = statement();
      return { kind: 'loop', init: null, condition, step: null, body, bodyFirst: false, from, to: body.to };
    }
    if (word === 'do') {
      const body = statement();
      if (r.next().text !== 'while') r.expected('while');
      const condition = inBrackets();
      return {
        kind: 'loop',
        init: null,
        condition,
        step: null,
        body,
        bodyFirst: true,
        from,
        to: semicolon(),
      };
    }
    const opened = r.peek();
    if (!r.accept('(')) r.expected('( after for');
    const init = r.accept(';') ? null : simple();
    const condition = r.isSign(';') ? null : r.readSequence();
    semicolon();
    const step = r.isSign(')') ? null : r.readSequence();
    r.close(')', opened);
    const body = statement();
    return { kind: 'loop', init, condition, step, body, bodyFirst: false, from, to: body.to };
  };

  /** A declaration or an expression, with its semicolon. */
  const simple = (): Statement => {
    if (startsDeclaration()) return declaration();
    const { from } = r.peek();
    const expression = r.readSequence();
    return { kind: 'expression', expression, from, to: semicolon() };
  };

  const label = (): Expression | null => {
    const value = r.next().text === 'default' ? null : r.readConditional();
    if (!r.accept(':')) r.expected('“:” after the label');
    return value;
  };
  const isLabel = () => r.peek().text === 'case' || r.peek().text === 'default';
  const choice = (from: number): Statement => {
    r.next();
    const selector = inBrackets();
    const opened = r.peek();
    if (!r.accept('{')) r.expected('{ and the cases');
    const sections: SwitchSection[] = [];
    while (!r.isSign('}')) {
      if (!isLabel() && r.peek().kind !== 'end') r.expected('case or default');
      const labels: (Expression | null)[] = [];
      while (isLabel()) labels.push(label());
      const body: Statement[] = [];
      while (!isLabel() && !r.isSign('}')) {
        if (r.peek().kind === 'end') fail(opened, 'This brace is never closed; add }.');
        body.push(statement());
      }
      sections.push({ labels, body });
    }
    return { kind: 'switch', selector, sections, from, to: r.next().to };
  };

  const statement = (): Statement => r.deeper(readStatement);
  const readStatement = (): Statement => {
    const { kind, text, from, to } = r.peek();
    if (text === '{') {
      const { body, to: end } = block();
      return { kind: 'block', body, from, to: end };
    }
    if (r.accept(';')) return { kind: 'empty', from, to };
    if (kind === 'name')
      switch (text) {
        case 'if': {
          r.next();
          const condition = inBrackets();
          const yes = statement();
          const no = r.peek().text === 'else' ? (r.next(), statement()) : null;
          return { kind: 'if', condition, yes, no, from, to: (no ?? yes).to };
        }
        case 'for':
        case 'while':
        case 'do':
          return loop(from);
        case 'switch':
          return choice(from);
        case 'return': {
          r.next();
          const value = r.isSign(';') ? null : r.readSequence();
          return { kind: 'return', value, from, to: semicolon() };
        }
        case 'break':
        case 'continue':
        case 'discard':
          r.next();
          return { kind: text, from, to: semicolon() };
        case 'else':
          fail(r.peek(), 'This else belongs to no if.');
      }
    return simple();
  };

  return { qualifiers, type, name, brackets, declared, semicolon, block };
};
