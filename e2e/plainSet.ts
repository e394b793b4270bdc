import { expect, type Page } from '@playwright/test';
import { openCurtain, playhouseId } from './stage.ts';

/** A part as the server tells it. */
interface Part {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly body: object;
}
/** The playhouse with its first set made another: grey boards that shine by themselves, or are lit, as told. */
export const openWith = async (
  page: Page,
  set: object,
  lit: boolean,
  outputs: object = { baseColor: 'vec3(0.5, 0.25, 0.1)', roughness: '1.0' },
  /** What the curtain's cloth is made of instead. */
  cloth?: object,
  sides: 'front' | 'back' | 'both' = 'both',
  strands?: readonly object[],
  alphaMode: 'opaque' | 'blended' = 'opaque',
): Promise<void> => {
  const id = await playhouseId(page);
  const { parts } = (await (await page.request.get(`/api/projects/${id}`)).json()) as { parts: Part[] };
  const put = async (part: string, change: object) => {
    const before = parts.find((each) => each.id === part)!;
    const data = { name: before.name, revision: before.revision, body: { ...before.body, ...change } };
    const answer = await page.request.put(`/api/projects/${id}/parts/${part}`, { data });
    expect(answer.status(), await answer.text()).toBe(200);
  };
  const surface = { lit, alphaMode, sides, depthWrite: alphaMode === 'opaque' };
  await put('worn-brass', {
    surface: { ...surface, outputs },
    ...(strands && { strands }),
  });
  if (cloth) await put('curtain-burn-away', { surface: { ...surface, outputs: cloth } });
  await put('proscenium', {
    ...{ ambientUp: [0.05, 0.05, 0.05], ambientDown: [0.05, 0.05, 0.05], exposure: 1, toneMapping: 'none' },
    ...{ bloom: { threshold: 1, intensity: 0 }, lights: [], ...set },
  });
  await openCurtain(page);
  await page.getByRole('tab', { name: 'Stage' }).click();
};
/** A flat board of the material that is told. */
export const board = (
  id: string,
  size: readonly number[],
  position: readonly number[],
  more: object = {},
) => ({
  ...{ id, name: id, material: 'brass-work', position, rotation: [0, 0, 0] },
  ...{ mesh: { kind: 'card', size, divisions: [1, 1] }, ...more },
});
/** What linear light comes to in a channel of eight bits, where nothing maps it. */
export const byte = (x: number): number =>
  255 * (x <= 0.0031308 ? x * 12.92 : 1.055 * Math.min(x, 1) ** (1 / 2.4) - 0.055);
