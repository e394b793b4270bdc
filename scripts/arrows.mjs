// Arrows inside the house point one way: which room of the core may import which, and no file reaches itself again,
// types included.
import { existsSync, readFileSync, readdirSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import ts from 'typescript';
import { ROOT } from './setup/run.mjs';

const SRC = join(ROOT, 'src');

/** What each room of the core may import besides itself. What stands at the core's root may import all of it. */
const MAY = {
  numbers: [],
  program: ['numbers'],
  rigs: ['numbers'],
  letters: [],
  images: ['evaluate', 'letters', 'meshes', 'numbers'],
  meshes: ['letters', 'numbers', 'rigs'],
  language: ['program'],
  operators: ['program', 'numbers'],
  document: ['language', 'operators', 'meshes', 'images', 'numbers'],
  lower: ['document', 'language', 'operators', 'program'],
  edits: ['document', 'images', 'language', 'operators', 'lower', 'time', 'program'],
  emit: ['document', 'language', 'program', 'numbers'],
  evaluate: ['program', 'meshes', 'numbers'],
  analyse: [
    'document',
    'emit',
    'evaluate',
    'lower',
    'taps',
    'time',
    'language',
    'operators',
    'meshes',
    'program',
    'numbers',
  ],
  time: ['document', 'emit', 'evaluate', 'numbers', 'rigs'],
  taps: ['document', 'evaluate', 'images', 'time', 'program', 'numbers'],
  import: ['document', 'emit', 'language', 'lower', 'operators', 'program'],
  handover: ['analyse', 'document', 'emit', 'lower', 'time', 'program', 'numbers'],
};

const aliases = Object.entries(JSON.parse(readFileSync(join(ROOT, 'package.json'), 'utf8')).imports).map(
  ([from, to]) => [from.replace('*', ''), resolve(ROOT, to.replace('*', ''))],
);

/** The files of the house that a file imports, dynamically and for their types too. */
const importsOf = (file) => {
  const text = readFileSync(file, 'utf8');
  const script = file.endsWith('.svelte')
    ? [...text.matchAll(/<script[^>]*>([^]*?)<\/script>/g)].map(([, inner]) => inner).join('\n')
    : text;
  return ts.preProcessFile(script, true, true).importedFiles.flatMap(({ fileName }) => {
    const alias = aliases.find(([from]) => fileName.startsWith(from));
    const to = alias
      ? join(alias[1], fileName.slice(alias[0].length))
      : fileName.startsWith('.')
        ? resolve(dirname(file), fileName)
        : null;
    return to && existsSync(to.replace(/\?.*/, '')) ? [to.replace(/\?.*/, '')] : [];
  });
};

/** Rooms that import what they may not. @returns a sentence each */
const wrongArrows = (graph) => {
  const core = join(SRC, 'core');
  const roomOf = (file) => {
    const path = relative(core, file).split('/');
    return path[0] === '..' || path.length === 1 ? null : path[0];
  };
  return [...graph].flatMap(([file, imported]) => {
    const from = roomOf(file);
    if (!from) return [];
    if (!MAY[from]) return [`${relative(ROOT, file)}: scripts/arrows.mjs knows no room called ${from}.`];
    return imported
      .filter((to) => to.startsWith(core) && roomOf(to) !== from && !MAY[from].includes(roomOf(to)))
      .map(
        (to) =>
          `${relative(ROOT, file)} imports ${relative(ROOT, to)}: ${from} may import ${MAY[from].join(', ') || 'nothing'}.`,
      );
  });
};

/** Sets of files that reach one another (Tarjan, Depth-First Search and Linear Graph Algorithms, 1972). */
const circlesIn = (graph) => {
  const [place, lowest, stack, circles] = [new Map(), new Map(), [], []];
  const visit = (file) => {
    place.set(file, place.size);
    lowest.set(file, place.get(file));
    stack.push(file);
    for (const to of graph.get(file) ?? []) {
      if (!place.has(to)) visit(to);
      if (stack.includes(to)) lowest.set(file, Math.min(lowest.get(file), lowest.get(to)));
    }
    if (lowest.get(file) !== place.get(file)) return;
    const circle = stack.splice(stack.indexOf(file));
    if (circle.length > 1 || graph.get(file)?.includes(file)) circles.push(circle);
  };
  for (const file of graph.keys()) if (!place.has(file)) visit(file);
  return circles.map(
    (files) =>
      `These import one another in a circle: ${files.map((each) => relative(ROOT, each)).join(', ')}.`,
  );
};

const files = readdirSync(SRC, { recursive: true })
  .filter((file) => /\.(ts|svelte)$/.test(file) && !/\.test(ing)?\.ts$/.test(file))
  .map((file) => join(SRC, file));
const graph = new Map(files.map((file) => [file, importsOf(file)]));
const wrong = [...wrongArrows(graph), ...circlesIn(graph)];
for (const each of wrong) console.error(each);
process.exit(wrong.length ? 1 : 0);
