import { existsSync, readdirSync } from 'node:fs';
import { ask, giveUp, run, say } from './run.mjs';

/** Debian's PostgreSQL programs live in a folder a version, off the PATH. */
export const postgresPrograms = () => {
  const base = '/usr/lib/postgresql';
  if (!existsSync(base)) return null;
  const versions = readdirSync(base)
    .filter((each) => existsSync(`${base}/${each}/bin/initdb`))
    .sort((a, b) => Number(b) - Number(a));
  return versions.length ? `${base}/${versions[0]}/bin` : null;
};

export const CHROMIUM = '/usr/bin/chromium';

const GLSLANG = '/usr/bin/glslangValidator';

/** Installs what Debian must give: PostgreSQL, and for tests Chromium and a compiler of GLSL that is not ours. */
export const ensureDebian = async ({ browser = false } = {}) => {
  const missing = [
    ...(postgresPrograms() ? [] : ['postgresql']),
    ...(browser && !existsSync(CHROMIUM) ? ['chromium'] : []),
    ...(browser && !existsSync(GLSLANG) ? ['glslang-tools'] : []),
  ];
  if (!missing.length) return;
  const command = `apt-get update && apt-get install -y --no-install-recommends ${missing.join(' ')}`;
  if (!ask('sh', ['-c', 'command -v apt-get']).ok)
    giveUp(
      `This needs ${missing.join(' and ')}, and installs them only on Debian. Install them and start again.`,
    );
  if (process.getuid() !== 0)
    giveUp(`Debian packages are missing. Install them and start again:\n\n  sudo sh -c '${command}'`);
  say(`installing ${missing.join(', ')}`);
  const code = await run('sh', ['-c', command], {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
  });
  if (code !== 0) giveUp(`Installing ${missing.join(', ')} failed. Try it by hand:\n\n  ${command}`);
};
