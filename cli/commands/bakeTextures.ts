import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { zlibSync } from 'fflate';
import { fileName } from '#core/handover/archive.ts';
import { encodePng } from '#core/images/encodePng.ts';
import type { Image } from '#core/images/image.ts';
import { createMaker, picturesIn, type Recipe } from '#core/images/makeTexture.ts';
import type { Finding } from '../answer.ts';
import { needFile, Refusal, textOf, type Given } from '../command.ts';
import { writeFile } from '../outputs.ts';
import { projectAt } from '../project.ts';
import { numbersOf } from '../readPictures.ts';

/** Bakes textures of a project, or compares what is there with what they come to. */
export const bakeTextures = async (given: Given, bits: 8 | 16) => {
  const path = needFile(given);
  const out = textOf(given, 'out');
  const name = textOf(given, 'texture');
  const compares = given.values['check'] === true;
  if (out === undefined) throw new Refusal('Where to? --out is a folder, or a .png for one texture.', 2);
  const { parts, blobs } = projectAt(path);
  const all = parts.flatMap((each) => (each.kind === 'texture' ? [each] : []));
  const textures = name === undefined ? all : all.filter((each) => each.name === name);
  if (!textures.length)
    throw new Refusal(
      name === undefined
        ? `${path}: there is no texture in this project.`
        : `--texture should be one of ${all.map((each) => each.name).join(', ') || 'no texture at all: there is none'}, not “${name}”.`,
      name === undefined ? 1 : 2,
    );
  const single = /\.png$/i.test(out);
  if (single && textures.length > 1) throw new Refusal(`${out}: several pictures need a folder to go to.`, 2);
  const recipes = new Map(
    all.map(({ id, name, body: { size, repeats, steps } }): [string, Recipe] => [
      id,
      { name, size, steps, repeats: [repeats[0] ?? true, repeats[1] ?? true] },
    ]),
  );
  const pictures = new Map<string, Image>();
  for (const { body } of all)
    for (const sha of picturesIn(body.steps)) {
      const bytes = blobs.get(sha);
      if (bytes && !pictures.has(sha)) pictures.set(sha, await numbersOf(bytes));
    }
  const maker = createMaker(
    recipes,
    (sha) => {
      const found = pictures.get(sha);
      if (!found) throw new Error('the picture that it reads is not in the project.');
      return found;
    },
    8,
  );
  const findings: Finding[] = [];
  const remarks: string[] = [];
  const baked: object[] = [];
  for (const { id, name: called, body } of textures) {
    const to = single ? out : join(out, `${fileName(called)}.png`);
    const wrong = (message: string) => findings.push({ severity: 'mistake', file: path, message });
    try {
      const image = maker.image(id);
      const png = encodePng(image, { holds: body.holds, bits }, zlibSync);
      const isSame = existsSync(to) && Buffer.compare(readFileSync(to), png) === 0;
      if (compares && !isSame)
        wrong(`${called}: ${to} ${existsSync(to) ? 'is not what it comes to now' : 'is not there'}.`);
      if (!compares) writeFile(to, png);
      baked.push({ texture: called, out: to, width: image.width, height: image.height, bits, same: isSame });
      if (!compares || isSame)
        remarks.push(
          `${to}: ${image.width} × ${image.height}, ${bits} bits${compares ? ', as it was' : ''}.`,
        );
    } catch (error) {
      if (error instanceof Refusal) throw error;
      wrong(`${called}: ${(error as Error).message}`);
    }
  }
  return { result: { baked }, findings, remarks };
};
