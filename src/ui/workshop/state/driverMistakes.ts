import type { CompiledShader } from '#core/compileShader.ts';
import type { Score } from '#core/document/shader.ts';
import type { Diagnostic } from '#core/lower/lowerShader.ts';

/** One complaint of a driver: ERROR: 0:27: 'x' : undeclared identifier. */
const COMPLAINT = /ERROR:\s*\d+:(\d+):\s*([^\n]*?)(?=\s*ERROR:|\s*$|\n)/g;

/**
 * What a driver said of generated source, put at the author's own lines where it is about code that runs as it was
 * written.
 * @returns a diagnostic for each complaint that has such a place
 */
export const driverMistakes = (shader: CompiledShader, score: Score, log: string): Diagnostic[] =>
  [...log.matchAll(COMPLAINT)].flatMap((found): Diagnostic[] => {
    const line = Number(found[1]);
    const place = shader.live.written.find((each) => line >= each.from && line <= each.to);
    if (!place) return [];
    for (const strand of score.strands)
      for (const step of strand.steps) {
        if (step.id !== place.step || step.code === undefined) continue;
        const lines = step.code.trimStart().split('\n');
        const skipped = step.code.length - step.code.trimStart().length;
        const before = lines
          .slice(0, line - place.from)
          .reduce((sum, each) => sum + each.length + 1, skipped);
        const text = lines[line - place.from] ?? '';
        return [
          {
            ...{ strand: strand.id, step: step.id, argument: 'code', from: before, to: before + text.length },
            message: `The graphics driver says: ${found[2]!.trim()}.`,
            by: 'driver',
          },
        ];
      }
    return [];
  });
