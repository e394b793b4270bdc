import { expect, type Page } from '@playwright/test';
import { openCurtain } from './stage.ts';

/** What of a canvas is drawn at shares of it. */
export const drawnAt = (page: Page, x: number, y: number): Promise<number[]> =>
  page.getByTestId('texture').evaluate(
    (each, [u, v]) => {
      const canvas = each as HTMLCanvasElement;
      const at = [Math.floor(canvas.width * u!), Math.floor(canvas.height * v!)] as const;
      return [...canvas.getContext('2d')!.getImageData(...at, 1, 1).data];
    },
    [x, y],
  );
/** A new texture, without the noise that it begins with. */
export const beginTexture = async (page: Page): Promise<void> => {
  await openCurtain(page);
  await page.getByRole('tab', { name: 'Textures' }).click();
  await page.getByRole('button', { name: 'Add texture' }).click();
  await page.getByRole('button', { name: 'noise of Texture', exact: true }).press('Delete');
};
export const add = async (page: Page, texture: string, step: string) => {
  await page.getByRole('button', { name: `Add a step to ${texture}` }).click();
  await page.getByRole('menuitem', { name: new RegExp(`^${step} `) }).click();
  await expect(page.getByRole('button', { name: `${step} of ${texture}` })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
};

/** What says that a texture is not what its materials read. */
export const stale = (page: Page) => page.getByText(/changed since it was baked|is being baked/);
