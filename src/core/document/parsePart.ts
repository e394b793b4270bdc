import { nameProblem } from '../language/names/reserved.ts';
import type { MotifDocument, SharedDocument } from './motif.ts';
import { checkNames, parseShader, readParameter, readScore, type ParsedDocument } from './parseShader.ts';
import type { MaterialDocument, PartBodies, PartKind, ScriptDocument, StageDocument } from './project.ts';
import { createReader, orElse, readFormat, type Reader } from './read.ts';
import { readMesh } from './readMesh.ts';
import type { ParameterValue } from './shader.ts';

type Triple = readonly [number, number, number];
const triple = (r: Reader, value: unknown, path: string) => r.numbers(value, path, 3) as unknown as Triple;

/** How a document is read. */
export interface Reading {
  /** False for what was stored before: a field that nobody knows any more is left out. */
  readonly strict?: boolean;
  /** True for a document in a folder: a picture may be the name of a file beside it. */
  readonly files?: boolean;
}
const PICTURE_FILE = /^[\w-]+\.(png|jpe?g|webp)$/;

/** Fields that every document has, or may have. */
const ENVELOPE = ['$schema', 'format', 'version'];

export const LONGEST_SCRIPT = 200_000;

const finish = <T>(r: Reader, document: T): ParsedDocument<T> =>
  r.problems.length ? { document: null, problems: r.problems } : { document, problems: [] };

/** A value holds at most this many numbers: a curve of the most keys. */
const MOST_NUMBERS = 4096;
const readValues = (r: Reader, json: unknown, path: string): Record<string, ParameterValue> =>
  Object.fromEntries(
    Object.entries(r.object(orElse(json, {}), path)).map(([name, value]) => [
      name,
      r.list(value, `${path}.${name}`, MOST_NUMBERS, (item, at) => r.number(item, at)),
    ]),
  );

const parseMaterial = (json: unknown, how: Reading): ParsedDocument<MaterialDocument> => {
  const r = createReader(how.strict);
  const given = r.object(json, '', [...ENVELOPE, 'shader', 'values', 'presets', 'pictures']);
  readFormat(r, given, 'wicked-veil/material', 1);
  return finish(r, {
    format: 'wicked-veil/material',
    version: 1,
    shader: r.text(given['shader'], 'shader', 64),
    values: readValues(r, given['values'], 'values'),
    ...(given['presets'] === undefined
      ? {}
      : {
          presets: r.list(given['presets'], 'presets', 64, (item, path) => {
            const preset = r.object(item, path, ['name', 'values']);
            return {
              name: r.text(preset['name'], `${path}.name`, 64),
              values: readValues(r, preset['values'], `${path}.values`),
            };
          }),
        }),
    ...(given['pictures'] === undefined
      ? {}
      : {
          pictures: Object.fromEntries(
            Object.entries(r.object(given['pictures'], 'pictures')).map(([name, sha]) => {
              const text = r.text(sha, `pictures.${name}`, 64);
              const isFile = how.files === true && PICTURE_FILE.test(text);
              if (!isFile && !/^[0-9a-f]{64}$/.test(text))
                r.problem(
                  `pictures.${name}`,
                  `A picture is named by the 64 hex digits of its SHA-256${how.files ? ', or by a file beside the material, such as order.png' : ''}.`,
                );
              return [name, text];
            }),
          ),
        }),
  });
};

const parseStage = (json: unknown, how: Reading): ParsedDocument<StageDocument> => {
  const r = createReader(how.strict);
  const given = r.object(json, '', [
    ...ENVELOPE,
    'props',
    'lights',
    'ambientUp',
    'ambientDown',
    'camera',
    'bloom',
    'exposure',
  ]);
  readFormat(r, given, 'wicked-veil/stage', 1);
  const camera = r.object(given['camera'], 'camera', ['position', 'target', 'fieldOfView']);
  const bloom = r.object(given['bloom'], 'bloom', ['threshold', 'intensity']);
  return finish(r, {
    format: 'wicked-veil/stage',
    version: 1,
    props: r.list(given['props'], 'props', 500, (item, path) => {
      const prop = r.object(item, path, ['id', 'name', 'mesh', 'material', 'position', 'rotation']);
      return {
        id: r.text(prop['id'], `${path}.id`, 64),
        name: r.text(prop['name'], `${path}.name`, 120),
        mesh: readMesh(r, prop['mesh'], `${path}.mesh`),
        material: r.text(prop['material'], `${path}.material`, 64),
        position: triple(r, prop['position'], `${path}.position`),
        rotation: triple(r, prop['rotation'], `${path}.rotation`),
      };
    }),
    lights: r.list(given['lights'], 'lights', 4, (item, path) => {
      const light = r.object(item, path, ['kind', 'position', 'color', 'intensity']);
      return {
        kind: r.oneOf(light['kind'], `${path}.kind`, ['direction', 'point'] as const),
        position: triple(r, light['position'], `${path}.position`),
        color: triple(r, light['color'], `${path}.color`),
        intensity: r.number(light['intensity'], `${path}.intensity`),
      };
    }),
    ambientUp: triple(r, given['ambientUp'], 'ambientUp'),
    ambientDown: triple(r, given['ambientDown'], 'ambientDown'),
    camera: {
      position: triple(r, camera['position'], 'camera.position'),
      target: triple(r, camera['target'], 'camera.target'),
      fieldOfView: r.number(camera['fieldOfView'], 'camera.fieldOfView'),
    },
    bloom: {
      threshold: r.number(bloom['threshold'], 'bloom.threshold'),
      intensity: r.number(bloom['intensity'], 'bloom.intensity'),
    },
    exposure: r.number(given['exposure'], 'exposure'),
  });
};

const parseScript = (json: unknown, how: Reading): ParsedDocument<ScriptDocument> => {
  const r = createReader(how.strict);
  const given = r.object(json, '', [...ENVELOPE, 'source']);
  readFormat(r, given, 'wicked-veil/script', 1);
  return finish(r, {
    format: 'wicked-veil/script',
    version: 1,
    source: r.text(given['source'], 'source', LONGEST_SCRIPT),
  });
};

export const MOST_OUTPUTS = 32;

const parseMotif = (json: unknown, how: Reading): ParsedDocument<MotifDocument> => {
  const r = createReader(how.strict);
  const given = r.object(json, '', [...ENVELOPE, 'description', 'parameters', 'strands', 'outputs']);
  readFormat(r, given, 'wicked-veil/motif', 1);
  const { strands } = readScore(r, { ...given, parameters: [] });
  const document: MotifDocument = {
    format: 'wicked-veil/motif',
    version: 1,
    description: r.text(orElse(given['description'], ''), 'description', 500),
    parameters: r.list(given['parameters'], 'parameters', 64, (item, path) => {
      const reads = r.object(item, path)['reads'];
      return {
        ...readParameter(r, item, path, ['reads']),
        ...(reads === undefined ? {} : { reads: r.text(reads, `${path}.reads`, 500) }),
      };
    }),
    strands,
    outputs: r.list(given['outputs'], 'outputs', MOST_OUTPUTS, (item, path) => {
      const output = r.object(item, path, ['id', 'name', 'expression']);
      return {
        id: r.text(output['id'], `${path}.id`, 64),
        name: r.text(output['name'], `${path}.name`, 64),
        expression: r.text(output['expression'], `${path}.expression`),
      };
    }),
  };
  if (!r.problems.length) {
    checkNames(r, document);
    const seen = new Set<string>();
    document.outputs.forEach(({ name }, i) => {
      const problem = nameProblem(name, new Set());
      if (problem) r.problem(`outputs[${i}].name`, problem);
      else if (seen.has(name)) r.problem(`outputs[${i}].name`, `The output “${name}” is there twice.`);
      seen.add(name);
    });
  }
  return finish(r, document);
};

const parseShared = (json: unknown, how: Reading): ParsedDocument<SharedDocument> => {
  const r = createReader(how.strict);
  const given = r.object(json, '', [...ENVELOPE, 'values']);
  readFormat(r, given, 'wicked-veil/shared', 1);
  return finish(r, {
    format: 'wicked-veil/shared',
    version: 1,
    values: readValues(r, given['values'], 'values'),
  });
};

const PARSERS: {
  readonly [kind in PartKind]: (json: unknown, how: Reading) => ParsedDocument<PartBodies[kind]>;
} = {
  shader: parseShader,
  material: parseMaterial,
  stage: parseStage,
  script: parseScript,
  motif: parseMotif,
  shared: parseShared,
};

/** Reads the body of a part of the given kind from JSON: what comes back, and only that, is the document. */
export const parsePart = <K extends PartKind>(
  kind: K,
  json: unknown,
  how: Reading = {},
): ParsedDocument<PartBodies[K]> => PARSERS[kind](json, how);
