import { randomUUID } from 'node:crypto';
import { chromium } from '@playwright/test';
import type { Knex } from 'knex';
import { emptyShader } from '#core/document/shader.ts';
import { sketchStrands } from '#core/document/sketch.ts';
import { openDatabase } from '#server/database.ts';
import { savePart } from '#server/projects.ts';
import { written } from '#server/requests/parts.ts';
import config from '../playwright.config.ts';
import { longTaskFigures } from './longTasks.ts';
import { median, ratio, type Figure } from './measure.ts';

const BASE = process.env['BASE_URL']!;

const shader = (i: number) => ({
  ...emptyShader(),
  strands: sketchStrands({
    [`strand${i}`]: [['gradientNoise', { p: 'uv * 4.0' }], ['remap', { inLow: -1 }], ['saturate']],
  }),
});

/** Puts a project of so many parts straight into the database. */
const makeProject = async (db: Knex, parts: number): Promise<string> => {
  const id = randomUUID();
  await db('projects').insert({ id, name: `${parts} parts` });
  const rows = Array.from({ length: parts }, (_, i) => ({
    ...{ project_id: id, id: `part-${i}`, kind: 'shader', name: `Shader ${i}`, revision: 1 },
    body: JSON.stringify(shader(i)),
  }));
  await db.batchInsert('parts', rows, 200);
  await db.batchInsert(
    'part_revisions',
    rows.map(({ id: part_id, kind: _, ...row }) => ({ ...row, part_id })),
    200,
  );
  return id;
};

const opening = async (db: Knex): Promise<Figure[]> => {
  const id = await makeProject(db, 2000);
  const url = `${BASE}/api/projects/${id}`;
  const page = `${BASE}/projects/${id}`;
  const ask = async (address: string): Promise<number> => {
    const began = performance.now();
    await (await fetch(address)).arrayBuffer();
    return performance.now() - began;
  };
  await ask(page);
  const first = median(await Promise.all([page, page, page].map((each) => ask(each))));
  const whole = median([await ask(url), await ask(url), await ask(url)]);
  const began = performance.now();
  const COUNT = 400;
  let asked = 0;
  const client = async (): Promise<void> => {
    while ((asked += 1) <= COUNT) await ask(page);
  };
  await Promise.all(Array.from({ length: 10 }, client));
  const perSecond = COUNT / ((performance.now() - began) / 1000);
  return [
    { name: 'open 2,000 parts: the first answer', value: `${first.toFixed(0)} ms`, against: 'at most 300' },
    {
      name: 'open 2,000 parts: all of them',
      value: `${whole.toFixed(0)} ms`,
      against: 'read from the database and sent',
    },
    {
      name: 'open 2,000 parts by 10 clients',
      value: `${perSecond.toFixed(0)} a second`,
      against: 'at least 200',
    },
  ];
};

/** A save with its history against the same rows by Knex alone, in one transaction. */
const saving = async (db: Knex): Promise<Figure[]> => {
  const id = await makeProject(db, 40);
  let revision = 1;
  let rawRevision = 1;
  const body = shader(7);
  const raw = async (): Promise<void> => {
    const text = JSON.stringify(body);
    rawRevision += 1;
    await db.transaction(async (trx) => {
      await trx('parts').where({ project_id: id, id: 'part-1' }).forUpdate().first('revision');
      await trx('parts')
        .where({ project_id: id, id: 'part-1' })
        .update({ name: 'Shader 1', body: text, revision: rawRevision, updated_at: trx.fn.now() });
      await trx('part_revisions').insert({
        ...{ project_id: id, part_id: 'part-1', revision: rawRevision, name: 'Shader 1', body: text },
      });
      await trx('deeds').insert({
        project_id: id,
        id: randomUUID(),
        part_id: 'part-1',
        revision: rawRevision,
      });
      await trx('projects').where({ id }).update({ updated_at: trx.fn.now() });
    });
  };
  const ours = async (): Promise<void> => {
    ({ revision } = await savePart(db, id, 'part-2', {
      ...{ revision, name: 'Shader 2', deed: randomUUID() },
      ...written('shader', 'Shader 2', body),
    }));
  };
  const time = async (work: () => Promise<void>): Promise<number> => {
    const began = performance.now();
    await work();
    return performance.now() - began;
  };
  const ratios: number[] = [];
  for (let round = 0; round < 60; round += 1) {
    const [mine, theirs] =
      round % 2 ? [await time(ours), await time(raw)] : [await time(raw), await time(ours)].reverse();
    ratios.push(mine! / theirs!);
  }
  return [
    {
      name: 'a save against its rows by Knex alone',
      value: ratio(median(ratios), 1),
      against: 'at most × 1.5',
    },
  ];
};

/** Opens, edits and saves a project of forty parts in a browser, and counts what comes over the wire. */
const working = async (db: Knex): Promise<Figure[]> => {
  const id = await makeProject(db, 40);
  await db('parts').insert({
    ...{ project_id: id, id: 'material', kind: 'material', name: 'Material' },
    body: JSON.stringify({ format: 'wicked-veil/material', version: 1, shader: 'part-0', values: {} }),
  });
  const browser = await chromium.launch(config.use!.launchOptions);
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const session = await page.context().newCDPSession(page);
    await session.send('Network.enable');
    let bytes = 0;
    session.on('Network.loadingFinished', ({ encodedDataLength }) => (bytes += encodedDataLength));
    await page.goto(BASE, { waitUntil: 'networkidle' });
    bytes = 0;
    const began = performance.now();
    await page.goto(`${BASE}/projects/${id}`);
    const card = page.locator('[data-step]').first();
    await card.waitFor();
    const opened = performance.now() - began;
    await page.getByRole('button', { name: 'Add strand' }).click();
    await page.keyboard.press('Enter');
    await page
      .getByRole('status')
      .filter({ hasText: /^\s*Saved\s*$/ })
      .waitFor();
    const kib = (n: number): string => `${(n / 1024).toFixed(0)} KiB`;
    return [
      {
        name: 'the workshop over the wire, after the wall',
        value: kib(bytes),
        against: 'what the wall does not need',
      },
      {
        name: 'a project of 40 parts opened, edited, saved',
        value: `${opened.toFixed(0)} ms, ${(performance.now() - began).toFixed(0)} ms`,
        against: 'until its first card; until it is saved',
      },
    ];
  } finally {
    await browser.close();
  }
};

export const projectFigures = async (): Promise<Figure[]> => {
  const db = openDatabase(process.env['DATABASE_URL']!);
  try {
    return [
      ...(await opening(db)),
      ...(await saving(db)),
      ...(await working(db)),
      ...(await longTaskFigures(db, BASE)),
    ];
  } finally {
    await db.destroy();
  }
};
