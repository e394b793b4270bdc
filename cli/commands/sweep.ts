import { standingAlone, uvSquare } from '#core/analyse/standing.ts';
import { MESH_KINDS, type MadeRecipe } from '#core/meshes/makeMesh.ts';
import { faceNamed } from '#core/letters/faces.ts';
import { meshStarter } from '#core/meshes/meshStarter.ts';
import type { Standing } from '#core/evaluate/points/onMesh.ts';
import { readArithmetic } from '#core/language/arithmetic.ts';
import { tablePictures } from '#core/taps/evaluatePoints.ts';
import { sweep as run, sweptCsv, sweptSentences } from '#core/taps/sweep.ts';
import { mapCsv, sweepMap } from '#core/taps/sweepMap.ts';
import { numbersFor } from '#core/time/values.ts';
import { needFile, Refusal, textOf, type Command } from '../command.ts';
import { missingPictures, readPictures } from '../readPictures.ts';
import { chosenValues } from '../values.ts';
import { computable } from './evaluate.ts';

const SQUARE = 'square';
/** Fields along each of two parameters. */
const ALONG = 20;
/** The square of uv, or a mesh as its kind is begun, four metres off. */
const standingOn = (over: string): Standing => {
  const kinds = [...MESH_KINDS.keys()];
  if (over === SQUARE) return uvSquare();
  if (!kinds.includes(over))
    throw new Refusal(`--over is ${SQUARE} or a kind of mesh: ${kinds.join(', ')}; not “${over}”.`, 2);
  const mesh = meshStarter(over as MadeRecipe['kind']);
  // Letters are brought where they are asked for.
  if (mesh.kind === 'board') faceNamed(mesh.face);
  return standingAlone(mesh, [0, 0], 4);
};

const numberOf = (text: string | undefined, name: string, otherwise: number): number => {
  const number = text === undefined ? otherwise : readArithmetic(text);
  if (number === null || !Number.isFinite(number))
    throw new Refusal(`--${name} is a number, not “${text}”.`, 2);
  return number;
};

export const sweep: Command = {
  usage:
    'sweep FILE --of PARAMETER [--from NUMBER] [--to NUMBER] [--samples 64] [--strand NAME] [--and PARAMETER] [--over square|MESH] [--csv] [--material NAME] [--parameter NAME=VALUE] [--picture NAME=FILE.png]',
  summary: 'Runs a parameter through its range and tells where nothing and where all of it shows.',
  help: `What shows is the surface's opacity; of a surface that is cut out, what is not. An opaque surface needs --strand, the
strand that stands for how much shows. The range is the parameter's own, unless --from and --to say another: it may go
beyond. It is measured over 4096 points of the square of uv, or of a mesh as it is begun. Ends are found to a thousandth. With --and
a second parameter goes through its range too, and the answer is a map: the share that shows for each pair.

  veil sweep curtain.shader.json --of burn --from=-0.2 --to 1.2`,
  options: {
    ...{ of: { type: 'string' }, from: { type: 'string' }, to: { type: 'string' } },
    ...{ samples: { type: 'string' }, strand: { type: 'string' }, over: { type: 'string' } },
    and: { type: 'string' },
    csv: { type: 'boolean' },
    material: { type: 'string' },
    parameter: { type: 'string', multiple: true },
    picture: { type: 'string', multiple: true },
  },
  most: 1,
  run: async (given) => {
    const file = needFile(given);
    const { shader, program, notes } = computable(file);
    const name = textOf(given, 'of');
    const parameter = shader.parameters.find((each) => each.name === name);
    if (!parameter)
      throw new Refusal(
        `--of should be one of ${shader.parameters.map((each) => each.name).join(', ') || 'no parameter at all: there is none'}, not “${name ?? ''}”.`,
        2,
      );
    if (parameter.kind !== 'float' && parameter.kind !== 'int')
      throw new Refusal(`${parameter.name} is a ${parameter.kind}; what is swept is one number.`);
    const strandName = textOf(given, 'strand');
    const strand = shader.strands.find((each) => each.name === strandName);
    if (strandName !== undefined && !strand)
      throw new Refusal(
        `--strand should be one of ${shader.strands.map((each) => each.name).join(', ')}, not “${strandName}”.`,
        2,
      );
    const samples = numberOf(textOf(given, 'samples'), 'samples', 64);
    if (!Number.isInteger(samples) || samples < 2 || samples > 4096)
      throw new Refusal(`--samples is a whole number from 2 to 4096, not “${samples}”.`, 2);
    const chosen = chosenValues(given, file, shader.parameters);
    const pictures = await readPictures(chosen.pictures, shader.parameters, chosen.sampling);
    const ask = {
      ...{ program, samples, parameter: parameter.name, strand: strand?.id },
      from: numberOf(textOf(given, 'from'), 'from', parameter.min),
      to: numberOf(textOf(given, 'to'), 'to', parameter.max),
      standing: standingOn(textOf(given, 'over') ?? SQUARE),
      given: {
        parameters: numbersFor(shader.parameters, chosen),
        knobs: new Map(),
        pictures: new Map([...pictures, ...tablePictures(shader.parameters, chosen)]),
      },
    };
    const finish = <T>(work: Generator<number, T>): T => {
      try {
        for (let step = work.next(); ; step = work.next()) if (step.done) return step.value;
      } catch (error) {
        throw new Refusal(`${file}: ${(error as Error).message}`);
      }
    };
    const otherName = textOf(given, 'and');
    if (otherName !== undefined) {
      const other = shader.parameters.find((each) => each.name === otherName);
      if (other?.kind !== 'float' && other?.kind !== 'int')
        throw new Refusal(`--and is a parameter of one number, not “${otherName}”.`, 2);
      // Fields on each side, where one does not say how many.
      const along = given.values['samples'] === undefined ? ALONG : samples;
      const map = finish(
        sweepMap({ ...ask, samples: along }, { parameter: other.name, from: other.min, to: other.max }),
      );
      return {
        result: { parameter: parameter.name, and: other.name, ...map },
        findings: [...notes],
        text: mapCsv(map, parameter.name, other.name),
      };
    }
    const swept = finish(run(ask));
    const measured = strand
      ? program.taps.findLast((tap) => tap.strand === strand.id)!.value
      : program.outputs['opacity']!;
    return {
      result: { parameter: parameter.name, ...swept },
      findings: [...notes, ...missingPictures(measured, chosen.pictures, file)],
      text: given.values['csv']
        ? sweptCsv(swept, parameter.name)
        : `${sweptSentences(swept, parameter.unit).join('\n')}\n`,
    };
  },
};
