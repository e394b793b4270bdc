import { chromium } from '@playwright/test';
import { MeshBVH } from 'three-mesh-bvh';
import { BufferAttribute, BufferGeometry, Vector3 } from 'three';
import { makeMesh } from '#core/meshes/makeMesh.ts';
import { bakeVolume } from '#stage/field/bakeVolume.ts';
import { placeAt } from '#core/meshes/volume.ts';
import config from '../playwright.config.ts';
import { median, ratio, type Figure } from './measure.ts';

/** What `stagePage.ts` answers. */
interface InPage {
  readonly ratios: number[];
  readonly sheet: number[];
  readonly drag: { readonly frames: number; readonly made: number };
  readonly leaks: Readonly<Record<'before' | 'after', Readonly<Record<string, number>>>>;
}

const inPage = async (url: string): Promise<Figure[]> => {
  const browser = await chromium.launch(config.use!.launchOptions!);
  try {
    const page = await browser.newPage();
    await page.goto(`${url}/api/health`);
    await page.addScriptTag({ path: '.cache/bench-page/stagePage.js', type: 'module' });
    await page.waitForFunction(() => 'stageBench' in window);
    const { ratios, drag, leaks, sheet } = await page.evaluate(() =>
      (window as unknown as { stageBench: () => Promise<InPage> }).stageBench(),
    );
    const told = (held: Readonly<Record<string, number>>): string =>
      Object.entries(held)
        .map(([what, count]) => `${count} ${what}`)
        .join(', ');
    return [
      {
        name: '200 props of 40 materials',
        value: ratio(median(ratios), 1),
        against:
          'script of a frame, of the same scene in plain three, the median of 60 in turns; at most 1.15',
      },
      {
        name: 'a prop’s drag to the picture',
        value: `${drag.frames} frame`,
        against: `among 200, with ${drag.made} programs linked or meshes made`,
      },
      {
        name: 'a contact sheet of 25',
        value: ratio(median(sheet), 1),
        against: 'of 25 frames of the same stage as it stands, encoded as PNGs too; at most 1.2',
      },
      {
        name: '500 shader edits, 50 mesh swaps',
        value: JSON.stringify(leaks.before) === JSON.stringify(leaks.after) ? 'no more' : 'MORE',
        against: `on the graphics card after than before: ${told(leaks.after)}; before, ${told(leaks.before)}`,
      },
    ];
  } finally {
    await browser.close();
  }
};

const SIDE = 64;
/** A volume of signed distances against nothing but the nearest triangle at as many places. */
const volume = (): Figure => {
  const mesh = makeMesh({ kind: 'sphere', radius: 1, divisions: [144, 72] });
  const baked = bakeVolume(mesh, SIDE);
  const [nx, ny, nz] = baked.size;
  const nearest = (): void => {
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(mesh.positions, 3));
    geometry.setIndex(new BufferAttribute(mesh.indices.slice(), 1));
    const bvh = new MeshBVH(geometry);
    const point = new Vector3();
    const found = { point: new Vector3(), distance: 0, faceIndex: 0 };
    for (let k = 0; k < nz; k += 1)
      for (let j = 0; j < ny; j += 1)
        for (let i = 0; i < nx; i += 1) {
          point.set(
            placeAt(baked.low[0], baked.high[0], nx, i),
            placeAt(baked.low[1], baked.high[1], ny, j),
            placeAt(baked.low[2], baked.high[2], nz, k),
          );
          bvh.closestPointToPoint(point, found);
        }
  };
  const spent = (work: () => void): number => {
    const began = performance.now();
    work();
    return performance.now() - began;
  };
  // Each takes a second or so: in turns, once to warm up.
  const ratios = [0, 1, 2, 3].map(() => spent(() => void bakeVolume(mesh, SIDE)) / spent(nearest)).slice(1);
  return {
    name: `${nx} × ${ny} × ${nz} distances of ${(mesh.indices.length / 3).toLocaleString('en')} triangles`,
    value: ratio(median(ratios), 1),
    against: 'signed, as the worker does it, of the nearest triangles alone; at most 1.2',
  };
};

export const stageFigures = async (url: string): Promise<Figure[]> => [...(await inPage(url)), volume()];
