import { BINDS, type Expression } from './syntax.ts';

const bindsOf = (e: Expression): number => {
  switch (e.kind) {
    case 'sequence':
      return 0;
    case 'assignment':
      return 1;
    case 'conditional':
      return 2;
    case 'binary':
      return BINDS[e.sign]!;
    case 'unary':
      return 14;
    default:
      return 16;
  }
};

const spellLiteral = (x: number): string => (/[.e]/.test(String(x)) ? String(x) : `${x}.0`);

/** Writes a tree back as source with no more brackets than it needs: parsing the result gives the same tree. */
export const printExpression = (e: Expression): string => {
  const inside = (part: Expression, least: number): string => {
    const text = printExpression(part);
    return bindsOf(part) < least ? `(${text})` : text;
  };
  switch (e.kind) {
    case 'literal':
      return e.type === 'float'
        ? spellLiteral(e.value)
        : e.type === 'bool'
          ? String(e.value === 1)
          : `${e.value}${e.type === 'uint' ? 'u' : ''}`;
    case 'name':
      return e.name;
    case 'member':
      // 1.x would read as a number and a name, so literals keep their brackets.
      return `${e.object.kind === 'literal' ? `(${printExpression(e.object)})` : inside(e.object, 15)}.${e.member}`;
    case 'index':
      return `${inside(e.object, 15)}[${printExpression(e.index)}]`;
    case 'call':
      if (e.callee === '.length') return `${inside(e.args[0]!, 15)}.length()`;
      return `${e.callee}(${e.args.map((arg) => inside(arg, 1)).join(', ')})`;
    case 'unary': {
      const operand = inside(e.operand, 14);
      return `${e.sign}${operand.startsWith(e.sign[0]!) ? ' ' : ''}${operand}`;
    }
    case 'postfix':
      return `${inside(e.operand, 15)}${e.sign}`;
    case 'binary':
      return `${inside(e.left, BINDS[e.sign]!)} ${e.sign} ${inside(e.right, BINDS[e.sign]! + 1)}`;
    case 'conditional':
      return `${inside(e.condition, 3)} ? ${inside(e.yes, 0)} : ${inside(e.no, 1)}`;
    case 'assignment':
      return `${inside(e.target, 3)} ${e.sign} ${inside(e.value, 1)}`;
    case 'sequence':
      return `${inside(e.first, 0)}, ${inside(e.second, 1)}`;
  }
};
