import { readFileSync } from 'node:fs';
import { compileShader, programOf } from '#core/compileShader.ts';
import { evaluateAt, readPoints } from '#core/taps/evaluatePoints.ts';
import type { Program, Value } from '#core/program/value.ts';
import type { ShaderDocument } from '#core/document/shader.ts';
import type { Finding } from '../answer.ts';
import { needFile, Refusal, textOf, type Command } from '../command.ts';
import { libraryBeside, readDocument, readJson } from '../readDocument.ts';
import { missingPictures, readPictures } from '../readPictures.ts';
import { byName } from '#core/document/valueKeys.ts';
import { chosenValues } from '../values.ts';
import { findingsOf } from './check.ts';
import { describe } from '../answer.ts';

export interface Computable {
  readonly shader: ShaderDocument;
  readonly program: Program;
  /** What is worth knowing of the shader. */
  readonly notes: readonly Finding[];
  /** The value of a strand or of an output of the surface. @throws Refusal that lists them */
  readonly valueOf: (wanted: string | undefined) => Value;
  readonly has: (wanted: string) => boolean;
}

/** A shader's program ready to be computed. @throws Refusal with its mistakes */
export const computable = (file: string): Computable => {
  const found = readDocument(file);
  if (found.kind !== 'shader')
    throw new Refusal(`${file}: only a shader can be computed; this is a ${found.kind}.`);
  const library = libraryBeside(file);
  const { program } = programOf(found.body, library);
  const findings = findingsOf(file, compileShader(found.body, found.name, library), found.body, found.text);
  if (!program) throw new Refusal(findings.map(describe).join('\n'), 1, findings);
  const find = (wanted: string | undefined): Value | undefined => {
    const strand = found.body.strands.find((each) => each.name === wanted);
    if (strand) return program.taps.findLast((tap) => tap.strand === strand.id)?.value;
    return wanted !== undefined && Object.hasOwn(program.outputs, wanted)
      ? program.outputs[wanted]
      : undefined;
  };
  return {
    shader: found.body,
    program,
    notes: findings,
    has: (wanted) => find(wanted) !== undefined,
    valueOf: (wanted) => {
      const value = find(wanted);
      if (value) return value;
      const names = [...found.body.strands.map((each) => each.name), ...Object.keys(program.outputs)];
      throw new Refusal(`--strand should be one of ${names.join(', ')}, not “${wanted ?? ''}”.`, 2);
    },
  };
};

export const evaluate: Command = {
  usage:
    'evaluate FILE --strand NAME --points FILE.json [--material NAME] [--parameter NAME=VALUE] [--picture NAME=FILE.png]',
  summary: 'Computes a strand, or an output of the surface, at points.',
  help: `FILE.json holds { "points": [{ "uv": [0.2, 0.4], "position": [0, 1, 0], "normal": [0, 0, 1] }],
"time": 0, "camera": [0, 1, 4], "parameters": { "burn": [0.3] } }; a point may carry its own time, camera and
parameters. What a shader does not read may be left out. Values begin with the shader's defaults, then --material's, then
--parameter's, then the file's. The answer is { "strand", "type", "values" }; what is no number is "NaN", "Infinity" or
"-Infinity", and with --strict ends with 1.

  veil evaluate curtain.shader.json --strand remains --points points.json --parameter burn=0.3`,
  options: {
    strand: { type: 'string' },
    points: { type: 'string' },
    material: { type: 'string' },
    parameter: { type: 'string', multiple: true },
    picture: { type: 'string', multiple: true },
  },
  most: 1,
  run: async (given) => {
    const file = needFile(given);
    const { shader, notes, valueOf } = computable(file);
    const strand = textOf(given, 'strand');
    const value = valueOf(strand);
    const pointsFile = textOf(given, 'points');
    if (pointsFile === undefined) throw new Refusal(`Which points? Usage: veil ${given.usage}`, 2);
    const { json } =
      pointsFile === '-' ? { json: JSON.parse(readFileSync(0, 'utf8')) as unknown } : readJson(pointsFile);
    const { points, problems } = readPoints(json, shader.parameters);
    if (!points) {
      const findings = problems.map((each): Finding => ({ severity: 'mistake', file: pointsFile, ...each }));
      throw new Refusal(findings.map(describe).join('\n'), 1, findings);
    }
    const chosen = chosenValues(given, file, shader.parameters);
    const pictures = await readPictures(chosen.pictures, shader.parameters, chosen.sampling);
    const under = { ...chosen.shared, ...byName(chosen.values, shader.parameters) };
    // Points that carry no values of their own go on sharing one object, so that they are computed together.
    const merged = new Map(points.map(({ parameters }) => [parameters, { ...under, ...parameters }]));
    const made = evaluateAt(
      value,
      points.map((each) => ({ ...each, parameters: merged.get(each.parameters)! })),
      shader.parameters,
      pictures,
    );
    if (made.problem !== undefined) throw new Refusal(`${pointsFile}: ${made.problem}`);
    const broken = made.values.flat().filter((x) => !Number.isFinite(x)).length;
    const findings: Finding[] = [
      ...notes,
      ...missingPictures(value, chosen.pictures, file),
      ...(broken
        ? [
            {
              severity: 'note' as const,
              file,
              message: `${broken} of the numbers are infinite or none at all.`,
            },
          ]
        : []),
    ];
    const result = { strand, type: value.type, values: made.values };
    const plain = (_: string, x: unknown) => (typeof x === 'number' && !Number.isFinite(x) ? String(x) : x);
    return { result, findings, text: `${JSON.stringify(result, plain, 2)}\n` };
  },
};
