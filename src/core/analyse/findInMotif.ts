import { motifAsShader, type Library, type NamedMotif } from '../document/motif.ts';
import { newPart, type PartOf } from '../document/project.ts';
import type { Budget } from '../document/budgets.ts';
import { lowerMotif, SURFACE } from '../lower/lowerShader.ts';
import { findAll } from './findAll.ts';
import { subjectOf } from './lookInto.ts';
import { keyOf, type Finding, type Place, type Subject } from './scene.ts';

/** Checks of what a surface is in the end, which a motif has none of, and of cost, which is paid where it is used. */
const NOT_OF_MOTIFS: ReadonlySet<string> = new Set([
  ...['over-budget', 'too-many-textures', 'unclamped-opacity', 'colour-space', 'tone-mapped-twice'],
]);

/** Prepares a motif to be checked by itself: its inputs from their least to their greatest, on the square of uv. */
export const lookIntoMotif = (motif: NamedMotif, library: Library): Subject | null => {
  // What reads a name, besides strands, is its outputs.
  const body = { ...motifAsShader(motif.body), outputs: motif.body.outputs };
  const part = newPart('shader', motif.id, motif.name, body) as PartOf<'shader'>;
  const lowered = lowerMotif(motif, library);
  // Each of its outputs is seen somewhere, and not the first alone.
  const outputs = Object.fromEntries(
    lowered.program.taps.flatMap(({ strand, step, value }) => (strand === SURFACE ? [[step, value]] : [])),
  );
  const program = { ...lowered.program, outputs: { ...lowered.program.outputs, ...outputs } };
  return subjectOf(part, { ...lowered, program }, []);
};

/** What the checks of a shader find in a motif by itself, with the notes that its author has answered. */
export const findInMotif = ({ body }: NamedMotif, subject: Subject, budget: Budget): readonly Finding[] => {
  const scene = {
    ...{ subjects: [subject], set: null, materials: [], shaders: [], scripts: [] },
    ...{ scripted: new Set<string>(), budget },
  };
  /** Its outputs go by their ids while they are computed, and by their names where they are shown. */
  const placed = (place: Place): Place =>
    place.kind === 'output'
      ? {
          kind: 'output',
          output: body.outputs.find(({ id }) => id === place.output)?.name ?? body.outputs[0]?.name ?? '',
        }
      : place;
  const told = new Set<string>();
  return (
    findAll(scene, 'shader')
      .filter(({ check }) => !NOT_OF_MOTIFS.has(check))
      .map(({ fix, ...found }): Finding => {
        const place = placed(found.place);
        const at = keyOf(place);
        const answer = body.silenced?.find((each) => each.check === found.check && each.at === at);
        // Taking an input away changes whoever uses the motif: that is left to its author.
        const isSafe = fix?.patches.every(
          ({ op, path: [of] }) => of === 'strands' || (of === 'parameters' && op === 'replace'),
        );
        return { ...found, place, at, note: answer?.note ?? null, ...(fix && isSafe ? { fix } : {}) };
      })
      // The first output is what is seen of it, too.
      .filter(({ check, at }) => !told.has(`${check} ${at}`) && told.add(`${check} ${at}`))
  );
};
