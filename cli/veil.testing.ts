import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

export const folder = mkdtempSync(join(tmpdir(), 'veil-'));

export const DEMO = 'demo/gallowglass';

export const CURTAIN = `${DEMO}/curtain-burn-away.shader.json`;

export const veil = (...args: readonly string[]) => {
  const { status, stdout, stderr } = spawnSync(process.execPath, ['cli/veil.mjs', ...args], {
    encoding: 'utf8',
  });
  return { status, out: stdout, err: stderr };
};

export const file = (name: string, content: unknown): string => {
  const path = join(folder, name);
  writeFileSync(path, typeof content === 'string' ? content : JSON.stringify(content, null, 2));
  return path;
};
