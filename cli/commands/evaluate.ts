import { readFileSync } from 'node:fs';
import { programOf } from '#core/compileShader.ts';
import { evaluateAt, readPoints } from '#core/exchange/evaluatePoints.ts';
import { needFile, readArguments, Refusal, type Command } from '../command.ts';
import { libraryBeside, readDocument, readJson } from '../readDocument.ts';
import { readPictures } from '../readPictures.ts';
import { describe, placeDiagnostic } from './check.ts';

const USAGE = 'evaluate FILE --strand NAME --points FILE.json [--picture NAME=FILE.png] [--json]';

/** A shader's program ready to be computed, and the value of one of its strands or outputs. */
export const strandOf = (file: string, wanted: string | undefined) => {
  const found = readDocument(file);
  if (found.kind !== 'shader')
    throw new Refusal(`${file}: only a shader can be computed; this is a ${found.kind}.`);
  const { program, diagnostics } = programOf(found.body, libraryBeside(file));
  if (!program) {
    const placed = diagnostics.map((each) => placeDiagnostic(each, found.body, found.text));
    throw new Refusal(placed.map((each) => describe(file, each)).join('\n'), 1, placed);
  }
  const strand = found.body.strands.find((each) => each.name === wanted);
  const value = strand
    ? program.taps.findLast((tap) => tap.strand === strand.id)?.value
    : wanted !== undefined && Object.hasOwn(program.outputs, wanted)
      ? program.outputs[wanted]
      : undefined;
  if (!value) {
    const names = [...found.body.strands.map((each) => each.name), ...Object.keys(program.outputs)];
    throw new Refusal(`--strand should be one of ${names.join(', ')}, not “${wanted ?? ''}”.`, 2);
  }
  return { shader: found.body, value };
};

export const evaluate: Command = {
  usage: USAGE,
  summary: 'Computes a strand, or an output of the surface, at points.',
  help: `FILE.json holds { "points": [{ "uv": [0.2, 0.4], "position": [0, 1, 0], "normal": [0, 0, 1] }],
"time": 0, "camera": [0, 1, 4], "parameters": { "burn": [0.3] } }; a point may carry its own time, camera and
parameters. What a shader does not read may be left out. The answer is { "strand", "type", "values" }.

  veil evaluate curtain.shader.json --strand remains --points points.json`,
  run: async (args) => {
    const { file: given, values } = readArguments(args, USAGE, {
      strand: { type: 'string' },
      points: { type: 'string' },
      picture: { type: 'string', multiple: true },
    });
    const file = needFile(given, USAGE);
    const { shader, value } = strandOf(file, values['strand'] as string | undefined);
    const pointsFile = values['points'] as string | undefined;
    if (pointsFile === undefined) throw new Refusal(`Which points? Usage: veil ${USAGE}`, 2);
    const { json } =
      pointsFile === '-' ? { json: JSON.parse(readFileSync(0, 'utf8')) as unknown } : readJson(pointsFile);
    const { points, problems } = readPoints(json, shader.parameters);
    if (!points)
      throw new Refusal(
        problems
          .map((each) => `${pointsFile}: ${each.path ? `${each.path}: ` : ''}${each.message}`)
          .join('\n'),
        1,
        problems,
      );
    const pictures = await readPictures(values['picture'] as string[] | undefined, shader.parameters);
    const made = evaluateAt(value, points, shader.parameters, pictures);
    if (made.problem !== undefined) throw new Refusal(`${pointsFile}: ${made.problem}`);
    console.log(JSON.stringify({ strand: values['strand'], type: value.type, values: made.values }, null, 2));
    return 0;
  },
};
