import { expect, type Page } from '@playwright/test';
import { stageRests, step } from './stage.ts';

export const wordsOf = (page: Page, strand: string) => () =>
  page.locator(`[data-strand="${strand}"] .word`).allTextContents();

export const undo = (page: Page) => page.getByTitle(/^Undo/).click();

export const show = async (page: Page, material: string): Promise<void> => {
  await page.getByLabel('Material shown').selectOption({ label: material });
  await stageRests(page);
};

/** The least and greatest value that a step's range bar tells of. */
export const rangeOf = async (page: Page, id: string): Promise<[number, number]> => {
  const bar = step(page, id).getByRole('img');
  await expect(bar).not.toHaveAttribute('aria-label', /not drawn yet/);
  const words = (await bar.getAttribute('aria-label')) ?? '';
  const found = /from (\S+) to (\S+)/.exec(words.replace(/−/g, '-').replace(/,/g, ''));
  return [Number(found?.[1] ?? NaN), Number(found?.[2] ?? NaN)];
};

export const addStep = async (page: Page, strand: string, wanted: string): Promise<void> => {
  await page.getByRole('button', { name: `Add a step to ${strand}` }).click();
  await page.getByRole('combobox', { name: 'Search operators' }).fill(wanted);
  await page.keyboard.press('Enter');
};
