import { cpus } from 'node:os';
import { browserFigures } from './browser.ts';
import { coreFigures } from './core.ts';
import { lookingFigures } from './looking.ts';
import { previewFigures } from './preview.ts';
import { projectFigures } from './project.ts';
import { serverFigures } from './server.ts';
import { stageFigures } from './stage.ts';
import { textureFigures } from './textures.ts';

const url = process.env['BASE_URL']!;
console.log(
  `\nFigures from one run, on ${cpus().length} × ${cpus()[0]!.model.trim()}, Node ${process.version}, WebGL 2 in software\n`,
);
const figures = [
  ...(await coreFigures()),
  ...lookingFigures(),
  ...(await textureFigures()),
  ...(await serverFigures(url)),
  ...(await previewFigures(url)),
  ...(await browserFigures(url)),
  ...(await stageFigures(url)),
  // Last, for it puts projects of its own on the wall.
  ...(await projectFigures()),
];
const widest = Math.max(...figures.map((each) => each.name.length));
for (const { name, value, against } of figures)
  console.log(`  ${name.padEnd(widest)}  ${value.padStart(9)}  ${against}`);
