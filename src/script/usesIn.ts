import { parser } from '@lezer/javascript';
import type { ScriptKey, ScriptThing, ScriptUse } from '#core/analyse/scene.ts';
import { SET_THINGS, type SetThing } from '#core/document/things.ts';

/** A use with its place in the source: the material's call, or the parameter's name without quotes. */
interface PlacedUse extends ScriptUse {
  readonly from: number;
  readonly to: number;
}

/**
 * The materials that a script names, and their parameters: `material('Velvet')`, what is read or set of it there, and of
 * the variable it is kept in. A variable that is given another material too, or whose name another takes, tells nothing.
 */
export const usesIn = (source: string): readonly ScriptUse[] =>
  placedUses(source).map(({ from: _, to: __, ...use }) => use);

/** The source with one parameter of some materials under another name, wherever `usesIn` finds it. */
export const renameParameterIn = (
  source: string,
  materials: ReadonlySet<string>,
  [before, after]: readonly [string, string],
): string =>
  placedUses(source)
    .filter(({ material, parameter }) => parameter === before && materials.has(material))
    .sort((a, b) => b.from - a.from)
    .reduce((text, { from, to }) => text.slice(0, from) + after + text.slice(to), source);

const placedUses = (source: string): readonly PlacedUse[] => {
  const text = ({ from, to }: { readonly from: number; readonly to: number }): string =>
    source.slice(from, to);
  const lineAt = (at: number): number => source.slice(0, at).split('\n').length;
  const tree = parser.parse(source);
  /** The name in `material('name')`, or null of anything else. */
  const named = (node: ReturnType<typeof tree.resolve> | null | undefined): string | null => {
    const [called, given] = [node?.firstChild, node?.lastChild?.getChild('String')];
    if (node?.name !== 'CallExpression' || !called || text(called) !== 'material' || !given) return null;
    return text(given).slice(1, -1).replace(/\\(.)/g, '$1');
  };
  const kept = new Map<string, string | null>();
  const uses: PlacedUse[] = [];
  tree.iterate({
    enter: ({ node }) => {
      const name = named(node);
      if (name !== null)
        uses.push({ material: name, parameter: null, line: lineAt(node.from), from: node.from, to: node.to });
      if (node.name === 'VariableDefinition') {
        const value = named(node.nextSibling?.name === 'Equals' ? node.nextSibling.nextSibling : null);
        kept.set(text(node), kept.has(text(node)) && kept.get(text(node)) !== value ? null : value);
      }
      if (node.name === 'AssignmentExpression' && node.firstChild?.name === 'VariableName')
        if (kept.get(text(node.firstChild)) !== named(node.lastChild)) kept.set(text(node.firstChild), null);
    },
  });
  tree.iterate({
    enter: ({ node }) => {
      if (node.name !== 'MemberExpression') return;
      const [of, member] = [node.firstChild, node.getChild('PropertyName') ?? node.lastChild?.prevSibling];
      if (!of || !member || member.from === of.from) return;
      const isText = member.name === 'String';
      if (!isText && member.name !== 'PropertyName') return;
      const [from, to] = isText ? [member.from + 1, member.to - 1] : [member.from, member.to];
      const material = named(of) ?? (of.name === 'VariableName' ? (kept.get(text(of)) ?? null) : null);
      if (material === null) return;
      const written =
        (node.parent?.name === 'AssignmentExpression' && node.parent.firstChild?.from === node.from) ||
        node.parent?.name === 'PostfixExpression' ||
        (node.parent?.name === 'UnaryExpression' && /^(\+\+|--)/.test(text(node.parent)));
      uses.push({
        ...{ material, parameter: source.slice(from, to), line: lineAt(member.from), from, to },
        ...(written ? { sets: true } : {}),
      });
    },
  });
  return uses;
};

const isThing = (word: string): word is SetThing => (SET_THINGS as readonly string[]).includes(word);
/** Calls of a function with a word as their first argument, in order. */
const calledWith = (
  source: string,
): readonly { readonly called: string; readonly word: string; readonly line: number }[] => {
  const found: { called: string; word: string; line: number }[] = [];
  parser.parse(source).iterate({
    enter: ({ node }) => {
      const [called, given] = [node.firstChild, node.lastChild?.getChild('String')];
      if (node.name !== 'CallExpression' || !called || !given) return;
      found.push({
        called: source.slice(called.from, called.to),
        word: source.slice(given.from, given.to).slice(1, -1).replace(/\\(.)/g, '$1'),
        line: source.slice(0, node.from).split('\n').length,
      });
    },
  });
  return found;
};
/** The props, cues and flourishes that a script names: `prop('Bell')`, `cue('toll')`. */
export const thingsIn = (source: string): readonly ScriptThing[] =>
  calledWith(source).flatMap(({ called, word, line }) =>
    isThing(called) ? [{ kind: called, name: word, line }] : [],
  );
/** The keys that a script listens to: `onKey('Space', …)`. */
export const keysIn = (source: string): readonly ScriptKey[] =>
  calledWith(source).flatMap(({ called, word, line }) => (called === 'onKey' ? [{ key: word, line }] : []));
