import type { Browser, Page } from '@playwright/test';

/** An empty page that WebGPU takes for secure, and that needs no server. */
export const securePage = async (browser: Browser): Promise<Page> => {
  const page = await browser.newPage();
  await page.route('http://localhost/bare', (route) =>
    route.fulfill({ contentType: 'text/html', body: '<p>bare</p>' }),
  );
  await page.goto('http://localhost/bare');
  return page;
};
