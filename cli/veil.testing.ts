import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { veil as call } from './veil.ts';

export const folder = mkdtempSync(join(tmpdir(), 'veil-'));

export const DEMO = 'demo/gallowglass';

export const CURTAIN = `${DEMO}/curtain-burn-away.shader.json`;

export const curtain = () =>
  JSON.parse(readFileSync(CURTAIN, 'utf8')) as {
    strands: { steps: { arguments: Record<string, unknown> }[] }[];
  };

/** What a call answers, in this process: most of the time a call takes is that of starting. */
export const veil = async (...args: readonly string[]) => {
  let [out, err] = ['', ''];
  const status = await call(args, {
    out: (text) => void (out += text),
    err: (text) => void (err += text),
  });
  return { status, out, err };
};

/** The same, started as a user starts it. */
export const veilStarted = (...args: readonly string[]) => {
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
