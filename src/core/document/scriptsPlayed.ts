import type { Part, PartOf, StageDocument } from './project.ts';

type Named = Pick<StageDocument, 'script' | 'alsoPlays'>;

/** The scripts that play in a set, in the order in which they hear of a tick: a set that names none plays the project’s first. */
export const scriptsPlayed = (parts: Iterable<Part>, set: Named | null): readonly PartOf<'script'>[] => {
  const all = [...parts].filter((each): each is PartOf<'script'> => each.kind === 'script');
  const first = all.find(({ id }) => id === set?.script) ?? all[0];
  const others = (set?.alsoPlays ?? []).flatMap((id) => all.find((each) => each.id === id) ?? []);
  return [...new Set([...(first ? [first] : []), ...others])];
};

/** What a set says so that scripts play in it, in this order; with none it plays the project’s first. */
export const playing = (scripts: readonly string[]): Named => {
  const [script, ...alsoPlays] = new Set(scripts);
  return { ...(script === undefined ? {} : { script }), ...(alsoPlays.length ? { alsoPlays } : {}) };
};
