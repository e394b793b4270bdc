import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { zlibSync } from 'fflate';
import { fileName } from '#core/handover/archive.ts';
import { bitsOf, encodePicture, endingOf, type Bits } from '#core/images/encodePicture.ts';
import type { Image } from '#core/images/image.ts';
import { recipesOf } from '#core/document/recipes.ts';
import { createMaker } from '#core/images/makeTexture.ts';
import { picturesIn } from '#core/images/recipe.ts';
import { readGlb } from '#core/meshes/glb.ts';
import { arriveHeights } from '#core/meshes/heights.ts';
import { arrive } from '#core/meshes/imported.ts';
import { createSources } from '#core/textureSources.ts';
import type { Finding } from '../answer.ts';
import { needFile, Refusal, textOf, type Given } from '../command.ts';
import { isPicture, writeFile } from '../outputs.ts';
import { projectAt } from '../project.ts';
import { heightsOf, numbersOf } from '../readPictures.ts';

/** Bakes textures of a project, or compares what is there with what they come to. */
export const bakeTextures = async (given: Given, asked: Bits | undefined) => {
  const path = needFile(given);
  const out = textOf(given, 'out');
  const name = textOf(given, 'texture');
  const compares = given.values['check'] === true;
  if (out === undefined)
    throw new Refusal('Where to? --out is a folder, or a .png or .exr for one texture.', 2);
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
  const single = /\.(png|exr)$/i.test(out);
  if (single && textures.length > 1) throw new Refusal(`${out}: several pictures need a folder to go to.`, 2);
  const recipes = recipesOf(parts);
  const pictures = new Map<string, Image>();
  for (const { steps, reads } of recipes.values()) {
    const brings = [...(reads?.values() ?? [])].flatMap((each) => each.brings);
    for (const sha of [
      ...picturesIn(steps),
      ...brings.flatMap(({ what, blob }) => (what === 'picture' ? [blob] : [])),
    ]) {
      const bytes = blobs.get(sha);
      if (bytes && !pictures.has(sha)) pictures.set(sha, await numbersOf(bytes));
    }
    for (const { what, blob } of brings) {
      const bytes = blobs.get(blob);
      if (bytes && what === 'mesh') arrive(blob, readGlb(bytes));
      if (bytes && what === 'heights') arriveHeights(blob, await heightsOf(bytes));
    }
  }
  const maker = createMaker(
    recipes,
    createSources(parts, (sha) => {
      const found = pictures.get(sha);
      if (!found) throw new Error('the picture that it reads is not in the project.');
      return found;
    }),
    { most: 2 ** 23 },
  );
  const findings: Finding[] = [];
  const remarks: string[] = [];
  const baked: object[] = [];
  for (const { id, name: called, body } of textures) {
    const bits = asked ?? bitsOf(body.bits);
    const to = isPicture(out, endingOf(bits)) ? out : join(out, `${fileName(called)}.${endingOf(bits)}`);
    const wrong = (message: string) => findings.push({ severity: 'mistake', file: path, message });
    try {
      const rows = maker.rows(id);
      const { width, height } = rows;
      const { file: made, loss } = encodePicture(rows, { holds: body.holds, bits }, zlibSync);
      const isSame = existsSync(to) && Buffer.compare(readFileSync(to), made) === 0;
      if (compares && !isSame)
        wrong(`${called}: ${to} ${existsSync(to) ? 'is not what it comes to now' : 'is not there'}.`);
      if (!compares) writeFile(to, made);
      if (loss) findings.push({ severity: 'note', file: path, message: `${called}: ${loss}` });
      baked.push({ texture: called, out: to, width, height, bits, same: isSame });
      if (!compares || isSame)
        remarks.push(`${to}: ${width} × ${height}, ${bits} bits${compares ? ', as it was' : ''}.`);
    } catch (error) {
      if (error instanceof Refusal) throw error;
      wrong(`${called}: ${(error as Error).message}`);
    }
  }
  return { result: { baked }, findings, remarks };
};
