import type { Edit, Patch } from '../document/patch.ts';
import { newPart, type Part, type PartOf } from '../document/project.ts';
import { scriptsPlayed } from '../document/scriptsPlayed.ts';
import { thingNames, type SetThing } from '../document/things.ts';
import type { PartChange } from './changeParts.ts';
import { freePartName, renameInScript } from './partEdits.ts';
import { playScripts } from './stageEdits.ts';

/** A prop, cue or flourish of a set that gets another name. */
export interface ThingRename {
  readonly set: string;
  readonly word: SetThing;
  readonly from: string;
  readonly to: string;
  /** Renames it in the set itself. */
  readonly edit: Edit;
}

/** A script that calls the thing by name and plays in other sets too, each of which has a thing of that name. */
export interface SharedScript {
  readonly script: string;
  readonly sets: readonly string[];
}

/** What becomes of shared scripts: the other sets' things are renamed too, or this set plays a copy of its own. */
export type SharedChoice = 'rename' | 'copy';

const LISTS = { prop: 'props', cue: 'cues', flourish: 'flourishes' } as const;

const followers = (parts: readonly Part[], { set, word, from, to }: ThingRename) => {
  const sets = parts.filter((each): each is PartOf<'stage'> => each.kind === 'stage');
  const own = sets.find(({ id }) => id === set)!;
  return scriptsPlayed(parts, own.body).flatMap((script) => {
    const source = renameInScript(script.body.source, from, to, word);
    if (source === script.body.source) return [];
    const others = sets.filter(
      (each) =>
        each.id !== set &&
        scriptsPlayed(parts, each.body).some(({ id }) => id === script.id) &&
        thingNames(each.body, word).includes(from),
    );
    return [{ script, source, own, others }];
  });
};

/** The scripts that cannot follow a new name without a choice: a thing of another set that they play in has the old one. */
export const scriptsSharedBy = (parts: readonly Part[], rename: ThingRename): readonly SharedScript[] =>
  followers(parts, rename).flatMap(({ script, others }) =>
    others.length ? [{ script: script.name, sets: others.map(({ name }) => name) }] : [],
  );

/**
 * Gives a thing of a set another name, in the scripts that play there too.
 * @returns a sentence where another set has a thing of the new name already
 */
export const renameThing = (
  parts: readonly Part[],
  rename: ThingRename,
  shared: SharedChoice,
  newId: () => string,
): readonly PartChange[] | string => {
  const { word, from, to, edit } = rename;
  const changes: PartChange[] = [];
  const played = followers(parts, rename);
  const elsewhere = new Map(played.flatMap(({ others }) => others.map((each) => [each.id, each] as const)));
  if (shared === 'rename')
    for (const set of elsewhere.values()) {
      if (thingNames(set.body, word).includes(to)) return `${set.name} has a ${word} “${to}” already.`;
      const patches = (set.body[LISTS[word]] ?? []).flatMap(({ name }, i): Patch[] =>
        name === from ? [{ op: 'replace', path: [LISTS[word], i, 'name'], value: to }] : [],
      );
      changes.push({ op: 'change', id: set.id, patches });
    }
  const copies = new Map<string, string>();
  const scriptsOf = ({ body }: PartOf<'stage'>) => scriptsPlayed(parts, body).map(({ id }) => id);
  for (const { script, source, others } of played) {
    if (shared === 'copy' && others.length) {
      const id = `script-${newId()}`;
      const name = freePartName(parts, 'script', `${script.name} copy`);
      changes.push({ op: 'add', part: newPart('script', id, name, { ...script.body, source }) });
      copies.set(script.id, id);
    } else
      changes.push({
        ...{ op: 'change', id: script.id },
        patches: [{ op: 'replace', path: ['source'], value: source }],
      });
  }
  const own = played[0]?.own;
  const plays =
    own && copies.size
      ? playScripts(
          own,
          scriptsOf(own).map((id) => copies.get(id) ?? id),
        ).patches
      : [];
  // One change a part: the server takes each from the revision it has. The set comes last, so that undo takes a copied
  // script out of it before it deletes the script.
  return [...changes, { op: 'change', id: edit.part, patches: [...edit.patches, ...plays] }];
};
