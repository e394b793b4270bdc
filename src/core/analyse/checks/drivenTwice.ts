import type { Check, Found, Scene } from '../scene.ts';

/** Writes of a script to a parameter that a cue of its set animates too. */
const sharedParameters = (script: Scene['scripts'][number], { set, materials, shaders }: Scene): Found[] =>
  (set?.body.cues ?? []).flatMap((cue) =>
    cue.tracks.flatMap(({ target }): Found[] => {
      const material = target.kind === 'parameter' && materials.find(({ id }) => id === target.of);
      if (!material) return [];
      const shader = shaders.find(({ id }) => id === material.body.shader);
      const name = shader?.body.parameters.find(({ id }) => id === target.what)?.name;
      const use = script.uses.find(
        (each) => each.sets && each.material === material.name && each.parameter === name,
      );
      if (!use || name === undefined) return [];
      return [
        {
          ...{ part: script.part.id, place: { kind: 'line', line: use.line, name: `${cue.name} ${name}` } },
          message: `Line ${use.line} sets ${name} of ${material.name}, which the cue ${cue.name} animates too. The script's value wins, whichever started last.`,
        },
      ];
    }),
  );

/** Keys that a script listens to and that start a cue or a flourish too. */
const sharedKeys = (script: Scene['scripts'][number], { set }: Scene): Found[] =>
  [...(set?.body.cues ?? []), ...(set?.body.flourishes ?? [])].flatMap((each) =>
    each.starts.flatMap((start): Found[] => {
      const use = start.by === 'key' && !each.off && script.keys?.find(({ key }) => key === start.key);
      if (!use) return [];
      const what = 'layers' in each ? 'flourish' : 'cue';
      return [
        {
          ...{
            part: script.part.id,
            place: { kind: 'line', line: use.line, name: `${each.name} ${use.key}` },
          },
          message: `Line ${use.line} listens to ${use.key}, which also starts the ${what} ${each.name}. One press does both.`,
        },
      ];
    }),
  );

export const drivenTwice: Check = {
  name: 'driven-twice',
  title: 'A script and a cue drive the same parameter, or share a key',
  why: 'The script overrides the cue without a word: the cue plays and nothing moves.',
  of: 'set',
  look: (scene) => {
    const found = scene.scripts.flatMap((script) => [
      ...sharedParameters(script, scene),
      ...sharedKeys(script, scene),
    ]);
    // A cue with a track there and one back says it once.
    const at = new Set<string>();
    return found.filter(({ part, message }) => {
      const key = `${part} ${message}`;
      return at.has(key) ? false : Boolean(at.add(key));
    });
  },
};
