import { expect } from '@playwright/test';
import { board, openWith } from './plainSet.ts';
import { COARSE, saved, test } from './stage.ts';

test.use(COARSE);

test('checks say what is wrong and where, mend it at a press, and are answered with a note', async ({
  page,
}) => {
  // A surface that reads none of its strands, and whose opacity goes beyond 1.
  await openWith(page, { props: [board('wall', [2, 2], [0, 1, 0])] }, false, { opacity: '0.5 + uv.x' });
  await page.getByRole('tab', { name: /^Checks/ }).click();
  const found = page.getByRole('region', { name: 'What checks find' });
  const unused = found.locator('[data-check=unused-name]');
  await expect(unused.first()).toBeVisible();
  const count = await unused.count();
  expect(count).toBeGreaterThan(1);
  const told = page.getByRole('banner').getByRole('button', { name: /^\d+ checks?$/ });
  await expect(told).toHaveText(`${count} checks`);
  // A fix is one press, and one undo.
  const mend = found.getByRole('button', { name: 'Delete strand dull' });
  await mend.click();
  await expect(mend).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(mend).toBeVisible();
  // What is answered is told no more, until it is asked for again.
  await unused.first().getByRole('button', { name: 'Leave it…' }).click();
  await page.keyboard.type('kept for the next act');
  await page.keyboard.press('Enter');
  await expect(unused).toHaveCount(count - 1);
  await found.getByRole('button', { name: '1 left as it is' }).click();
  await expect(found.getByText('“kept for the next act”')).toBeVisible();
  await found.getByRole('button', { name: 'Check it again' }).click();
  await expect(unused).toHaveCount(count);
  // It leads to its place.
  await found.getByRole('button', { name: 'Worn brass, dull' }).click();
  await expect(page.getByRole('tab', { name: 'Strands' })).toHaveAttribute('aria-selected', 'true');
  await expect(page.getByRole('region', { name: 'Strand dull' }).locator(':focus')).toHaveCount(1);
  // Of another set nothing is told by it, also before that was looked at.
  await expect(told).toHaveText(`${count} checks`);
  await page.getByLabel('Set on the stage').selectOption({ label: 'Footlight shimmer' });
  expect(await told.count()).toBe(0);
  await saved(page);
});

test('guarantees are made, changed, measured, copied and deleted; budgets are the author’s own', async ({
  page,
}) => {
  await openWith(page, { props: [board('wall', [2, 2], [0, 1, 0])] }, false, {
    emission: 'brass.rgb * uv.x',
  });
  await page.getByRole('tab', { name: /^Checks/ }).click();
  const list = page.getByRole('list', { name: 'Guarantees' });
  const cost = page.getByRole('table', { name: 'Cost against budgets' });
  await expect(cost).toBeVisible();
  await page.getByLabel('Add a guarantee').selectOption('numbers');
  await expect(list.getByLabel('holds', { exact: true })).toBeVisible();
  await page.getByLabel('Add a guarantee').selectOption('cost');
  await expect(list.getByText('costs no more than the phone budget')).toBeVisible();
  await expect(list.getByLabel('holds', { exact: true })).toHaveCount(2);
  // A budget of less than it takes: the guarantee does not hold, the check says so, the top line shows it.
  const uniforms = Number(await page.getByTestId('cost-uniformVectors').textContent());
  await cost.getByLabel('uniform vectors of phone').click();
  await page.keyboard.type(String(uniforms - 1));
  await page.keyboard.press('Enter');
  await expect(list.getByLabel('does not hold')).toBeVisible();
  await expect(
    list.getByText(`${uniforms} uniform vectors, where there may be ${uniforms - 1}.`),
  ).toBeVisible();
  const over = page.locator('[data-check=over-budget]');
  await expect(over).toContainText('uniform vectors');
  // It is guaranteed already, so that this is not offered.
  await expect(over.getByRole('button', { name: 'Guarantee', exact: true })).toHaveCount(0);
  await expect(page.getByRole('meter')).toHaveAttribute('aria-label', 'Share of the phone budget');
  // Called otherwise, the guarantee follows.
  await cost.getByLabel('Name of the budget').first().fill('small phone');
  await page.keyboard.press('Enter');
  await expect(list.getByText('costs no more than the small phone budget')).toBeVisible();
  await cost.getByLabel('Work to desktop').check();
  await expect(page.getByRole('meter')).toHaveAttribute('aria-label', 'Share of the desktop budget');
  await cost.getByRole('button', { name: 'Duplicate desktop' }).click();
  await expect(cost.getByLabel('Name of the budget')).toHaveCount(4);
  await cost.getByRole('button', { name: 'Delete desktop 2' }).click();
  await expect(cost.getByLabel('Name of the budget')).toHaveCount(3);
  await list.getByText('everything is a number').click();
  await list.getByRole('button', { name: 'Duplicate the guarantee' }).click();
  await expect(list.getByText('everything is a number')).toHaveCount(2);
  await list.getByRole('button', { name: 'Delete the guarantee' }).click();
  await expect(list.getByText('everything is a number')).toHaveCount(1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(list.getByText('everything is a number')).toHaveCount(2);
  // Cards show their share of it.
  await page.getByRole('tab', { name: 'Strands' }).click();
  await page.getByLabel('Costs').check();
  await expect(page.locator('[data-cost]').first()).toHaveText(/^(<1|\d+) %/);
  await saved(page);
});
