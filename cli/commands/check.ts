import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { Script } from 'node:vm';
import { compileMotif, compileShader, type Compilation } from '#core/compileShader.ts';
import { isTable, parameterSize, type Parameter, type Score } from '#core/document/shader.ts';
import { importGlsl } from '#core/import/importGlsl.ts';
import { analyseModule } from '#core/language/glsl/analyseModule.ts';
import { nearestName } from '#core/language/nearest.ts';
import { placeInText } from '#core/language/placeInText.ts';
import { remarksOn } from '#core/time/remarksOn.ts';
import { broughtFor } from '#core/meshes/makeMesh.ts';
import type { Diagnostic } from '#core/lower/lowerShader.ts';
import { CHECKS } from '#core/analyse/findAll.ts';
import { findInMotif, lookIntoMotif } from '#core/analyse/findInMotif.ts';
import { keepGuarantees } from '#core/analyse/guarantees.ts';
import type { Finding as Found } from '#core/analyse/scene.ts';
import type { Finding } from '../answer.ts';
import { Refusal, type Command } from '../command.ts';
import { documentBeside, filesAt } from '../documents.ts';
import { budgetsBeside, findInSet, findInShader, lookIntoShader } from '../lookAround.ts';
import { checkTexture } from './checkTexture.ts';
import { libraryBeside, lineOf, readDocument, readText, type ReadDocument } from '../readDocument.ts';

/** A diagnostic with the line of its step in the file, and the line and column in its code where it is code. */
export const placeDiagnostic = (
  file: string,
  each: Diagnostic,
  score: Score,
  text: string,
  severity: Finding['severity'] = 'mistake',
): Finding => {
  const strand = score.strands.find((one) => one.id === each.strand);
  const step = strand?.steps.find((one) => one.id === each.step);
  const line = lineOf(text, step ? `"${step.id}"` : `"${each.step || each.strand}"`);
  const inCode =
    each.argument === 'code' && step?.code !== undefined ? placeInText(step.code, each.from) : null;
  return {
    ...{ severity, file, line },
    strand: strand?.name ?? each.strand,
    step: step ? `${step.id} (${step.operator})` : each.step,
    argument: inCode ? `code, line ${inCode.line}, column ${inCode.column}` : each.argument,
    ...(inCode ? {} : { column: each.from + 1 }),
    message: each.message,
  };
};

/** What a compilation says, placed in its file. */
export const findingsOf = (file: string, made: Compilation, score: Score, text: string): Finding[] => [
  ...made.diagnostics.map((each) => placeDiagnostic(file, each, score, text)),
  ...made.notes.map((each) => placeDiagnostic(file, each, score, text, 'note')),
];

/** What a whole fragment gets wrong as a shader of its own: names that nothing declares, say. */
export const mistakesInFragment = (file: string, text: string): Finding[] => {
  const made = importGlsl(text);
  if (!made.document) return made.problems.map((each) => ({ severity: 'mistake', file, ...each }));
  const { strands } = made.document;
  return compileShader(made.document, 'imported')
    .diagnostics.filter((each) => !each.follows)
    .map(({ step, argument, from, to, message }) => {
      const { code } = strands.flatMap(({ steps }) => steps).find(({ id }) => id === step) ?? {};
      const word = argument === 'code' && code ? /^\w+/.exec(code.slice(from, to))?.[0] : undefined;
      const at = word ? text.search(new RegExp(`\\b${word}\\b`)) : 0;
      return { severity: 'mistake', file, ...placeInText(text, Math.max(at, 0)), message };
    });
};

const checkGlsl = (file: string): Finding[] => {
  const text = readText(file);
  const whole = /\bvoid\s+main\s*\(/.test(text) && !file.endsWith('.vert');
  if (whole) return mistakesInFragment(file, text);
  const { mistake } = analyseModule(text);
  return mistake
    ? [{ severity: 'mistake', file, ...placeInText(text, mistake.from), message: mistake.message }]
    : [];
};

/** A script's syntax; what it does is found out by rehearsing it. */
const checkScript = (file: string, source: string, lineBefore = 0): Finding[] => {
  try {
    new Script(`(()=>{'use strict';${source}\n})`, { filename: 'script.js' });
    return [];
  } catch (error) {
    const line = /script\.js:(\d+)/.exec(String((error as Error).stack))?.[1];
    return [
      {
        ...{ severity: 'mistake', file, line: lineBefore + Number(line ?? 1) },
        message: `This cannot be read as JavaScript: ${(error as Error).message}.`,
      },
    ];
  }
};

/** What is wrong with values for parameters: names that nobody reads, and sizes that do not fit. */
export const checkValues = (
  values: Readonly<Record<string, readonly number[]>>,
  parameters: readonly Parameter[],
): readonly { readonly path: string; readonly message: string }[] =>
  Object.entries(values).flatMap(([id, value]) => {
    const parameter = parameters.find((each) => each.id === id);
    const path = `values.${id}`;
    if (!parameter) {
      const near = nearestName(
        id,
        parameters.map((each) => each.id),
      );
      return [{ path, message: `No parameter has this id${near ? `; did you mean ${near}?` : '.'}` }];
    }
    const size = parameterSize(parameter.kind);
    return isTable(parameter.kind) || value.length === size
      ? []
      : [{ path, message: `A ${parameter.kind} has ${size} numbers, not ${value.length}.` }];
  });

/** A material among the documents beside it: its shader, what that reads, its pictures. */
const checkMaterial = (
  file: string,
  { body, text }: Extract<ReadDocument, { kind: 'material' }>,
): Finding[] => {
  const wrong = (path: string, message: string): Finding => ({
    ...{ severity: 'mistake', file, path, message },
    line: lineOf(text, `"${path.split('.').at(-1)!}"`),
  });
  const shader = documentBeside(file, 'shader', body.shader);
  if (shader?.kind !== 'shader')
    return [
      wrong(
        'shader',
        `There is no shader “${body.shader}” beside this; it would be ${body.shader}.shader.json.`,
      ),
    ];
  const { parameters } = shader.body;
  const all = [
    ...checkValues(body.values, parameters),
    ...(body.presets ?? []).flatMap((preset) => checkValues(preset.values, parameters)),
  ];
  const textures = new Set(parameters.filter((each) => each.kind === 'texture').map((each) => each.id));
  return [
    ...all.map(({ path, message }) => wrong(path, message)),
    ...Object.entries(body.made ?? {}).flatMap(([name, id]) =>
      documentBeside(file, 'texture', id)
        ? []
        : [wrong(`made.${name}`, `There is no texture “${id}” beside this; it would be ${id}.texture.json.`)],
    ),
    ...Object.entries(body.pictures ?? {}).flatMap(([id, picture]) => {
      if (!textures.has(id)) return [wrong(`pictures.${id}`, 'No texture parameter has this id.')];
      const isFile = picture.includes('.');
      return isFile && !existsSync(join(dirname(file), picture))
        ? [wrong(`pictures.${id}`, `There is no file ${picture} beside this.`)]
        : [];
    }),
  ];
};

/** A set among the documents beside it: what its props and its frame wear, and its pictures. */
const checkStage = (file: string, { body, text }: Extract<ReadDocument, { kind: 'stage' }>): Finding[] => {
  const wrong = (path: string, named: string, message: string): Finding => ({
    ...{ severity: 'mistake', file, path, message },
    line: lineOf(text, `"${named}"`),
  });
  const layers = (body.flourishes ?? []).flatMap((flourish, i) =>
    flourish.layers.map((layer, k) => [layer, `flourishes[${i}].layers[${k}]`] as const),
  );
  const worn = [
    ...body.props.map(({ material, name }, i) => [material, `props[${i}]`, `The prop ${name}`] as const),
    ...(body.frame ?? []).map(({ material }, i) => [material, `frame[${i}]`, 'The frame'] as const),
    ...layers.map(([{ material, name }, path]) => [material, path, `The layer ${name}`] as const),
  ];
  const pictures = [
    ...body.props.map(({ mesh }, i) => [broughtFor(mesh)?.blob, `props[${i}].mesh.picture`] as const),
    ...layers.map(([{ mesh }, path]) => [mesh && broughtFor(mesh)?.blob, `${path}.mesh.picture`] as const),
    [body.environment?.picture, 'environment.picture'] as const,
    ...(body.choices ?? []).flatMap(({ pictures }, i) =>
      pictures.map((each, k) => [each, `choices[${i}].pictures[${k}]`] as const),
    ),
  ];
  return [
    ...worn.flatMap(([material, path, who]) =>
      documentBeside(file, 'material', material)
        ? []
        : [
            wrong(
              `${path}.material`,
              material,
              `${who} wears “${material}”, and there is no ${material}.material.json beside this.`,
            ),
          ],
    ),
    ...remarksOn(body, (id) => {
      const material = documentBeside(file, 'material', id);
      const shader = material?.kind === 'material' && documentBeside(file, 'shader', material.body.shader);
      return shader && shader.kind === 'shader' ? shader.body.parameters : null;
    }).map(({ of, message }) =>
      wrong(
        { cue: 'cues', rule: 'drives', flourish: 'flourishes' }[of.kind],
        of.track ?? of.layer ?? of.id,
        message,
      ),
    ),
    ...pictures.flatMap(([picture, path]) =>
      picture?.includes('.') && !existsSync(join(dirname(file), picture))
        ? [wrong(path, picture, `There is no file ${picture} beside this.`)]
        : [],
    ),
  ];
};

/** What checks found, as notes; what an author has answered is left out. */
const notesOf = (file: string, text: string, found: readonly Found[], score?: Score): Finding[] =>
  found.flatMap((each): Finding[] => {
    if (each.note !== null) return [];
    const { place } = each;
    const named = Object.values(place).at(-1) as string;
    const strand = score?.strands.find(({ id }) => 'strand' in place && id === place.strand);
    return [
      {
        ...{ severity: 'note', file, line: lineOf(text, `"${named}"`), check: each.check },
        ...(strand ? { strand: strand.name } : {}),
        ...(place.kind === 'step' ? { step: place.step } : {}),
        message: each.message,
      },
    ];
  });

/** A shader's guarantees: one that does not hold is a mistake, one that cannot be measured here a note. */
const promises = (file: string, text: string, kept: ReturnType<typeof keepGuarantees>): Finding[] =>
  kept.flatMap(({ id, sentence, holds, figure, told }): Finding[] =>
    holds === true
      ? []
      : [
          {
            ...{ severity: holds === null ? 'note' : 'mistake', file, line: lineOf(text, `"${id}"`) },
            message:
              holds === null
                ? `The guarantee “${sentence}” is not measured. ${told}`
                : `The guarantee “${sentence}” does not hold: ${figure}. ${told}`.trim(),
          },
        ],
  );

const lookAtShader = async (
  file: string,
  found: Extract<ReadDocument, { kind: 'shader' }>,
): Promise<Finding[]> => {
  const compiled = findingsOf(
    file,
    compileShader(found.body, found.name, libraryBeside(file)),
    found.body,
    found.text,
  );
  if (compiled.some(({ severity }) => severity === 'mistake')) return compiled;
  const subject = await lookIntoShader(file, found);
  return subject
    ? [
        ...compiled,
        ...promises(file, found.text, keepGuarantees(subject, budgetsBeside(file).all)),
        ...notesOf(file, found.text, findInShader(file, subject), found.body),
      ]
    : compiled;
};

const findings = async (file: string): Promise<Finding[]> => {
  if (/\.(glsl|frag|vert)$/.test(file)) return checkGlsl(file);
  if (file.endsWith('.script.js')) return checkScript(file, readText(file));
  const found = readDocument(file);
  switch (found.kind) {
    case 'shader':
      return lookAtShader(file, found);
    case 'motif': {
      const motif = { id: found.name, name: found.name, body: found.body };
      const library = libraryBeside(file);
      const compiled = findingsOf(file, compileMotif(motif, library), found.body, found.text);
      const subject = compiled.some(({ severity }) => severity === 'mistake')
        ? null
        : lookIntoMotif(motif, library);
      const noted = subject ? findInMotif(motif, subject, budgetsBeside(file).first) : [];
      return [...compiled, ...notesOf(file, found.text, noted, found.body)];
    }
    case 'material':
      return checkMaterial(file, found);
    case 'stage': {
      const wrong = checkStage(file, found);
      return wrong.length ? wrong : notesOf(file, found.text, await findInSet(file, found));
    }
    case 'script':
      return checkScript(file, found.body.source);
    case 'texture':
      return checkTexture(file, found);
    case 'take':
    case 'shared':
      return [];
  }
};

export const check: Command = {
  usage: 'check PATH… [--strict] [--watch]',
  summary: 'Says what is wrong in documents, a folder of them, or GLSL, and where.',
  help: `PATH is a shader, motif, texture, material, stage, script, take or shared document (JSON, or .script.js), GLSL (.glsl, .frag, .vert),
or a folder of documents. What they name is looked for beside them: motifs as NAME.motif.json, a material's shader as
NAME.shader.json. Mistakes end with 1, and so does a guarantee that does not hold; with --strict so do notes, which is what
checks find: ${CHECKS.map(({ name }) => name).join(', ')}. A shader is measured on the square of uv, as each material beside it
wears it; in a set, on its props. --watch goes on and checks again what changes.

  veil check demo/gallowglass`,
  options: {},
  run: async ({ words, usage }) => {
    if (!words.length) throw new Refusal(`Which file? Usage: veil ${usage}`, 2);
    const files = words.flatMap((path) => filesAt(path));
    const all: Finding[] = [];
    const remarks: string[] = [];
    for (const file of files) {
      let found: readonly Finding[];
      try {
        found = await findings(file);
      } catch (error) {
        // One file that cannot be read does not keep the others from being looked at.
        if (!(error instanceof Refusal)) throw error;
        found = error.findings;
      }
      all.push(...found);
      if (!found.some((each) => each.severity === 'mistake')) remarks.push(`${file}: nothing is wrong.`);
    }
    return { result: { files }, findings: all, remarks };
  },
};
