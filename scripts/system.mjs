// Debian's packages and npm's: installs what is missing, nothing else.
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { join } from 'node:path';
import { root } from './paths.mjs';

const asRoot = process.getuid?.() === 0;

/** Installs Debian packages whose probe file is missing. `wanted` maps a package to a path that it brings. */
export function installDebian(wanted) {
  const missing = Object.entries(wanted).filter(([, probe]) => !existsSync(probe));
  if (!missing.length) return 'nothing missing';
  const names = missing.map(([name]) => name);
  const prefix = asRoot ? [] : ['sudo', '-n'];
  const say = `Debian packages are missing: install them with "sudo apt-get install ${names.join(' ')}" and start again.`;
  if (!existsSync('/usr/bin/apt-get')) throw new Error(say);
  if (names.includes('postgresql')) {
    // No cluster of the system's own: ours lies in the project.
    const [command, ...args] = [
      ...prefix,
      'sh',
      '-c',
      'mkdir -p /etc/postgresql-common && { [ -e /etc/postgresql-common/createcluster.conf ] || echo "create_main_cluster = false" > /etc/postgresql-common/createcluster.conf; }',
    ];
    spawnSync(command, args, { stdio: 'ignore' });
  }
  const apt = (...args) => {
    const [command, ...rest] = [
      ...prefix,
      'env',
      'DEBIAN_FRONTEND=noninteractive',
      'apt-get',
      '-qq',
      '-o',
      'DPkg::Lock::Timeout=300',
      ...args,
    ];
    const done = spawnSync(command, rest, { encoding: 'utf8' });
    if (done.status !== 0) throw new Error(`${say}\n${(done.stderr ?? '').trim().split('\n').at(-1) ?? ''}`);
  };
  apt('update');
  apt('install', '-y', ...names);
  return `installed ${names.join(', ')}`;
}

/** Installs npm packages when the lock file is not the one that was installed last. */
export function installPackages() {
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  const mark = join(root, 'node_modules/.june-lock');
  if (existsSync(mark) && readFileSync(mark, 'utf8') === lock) return 'nothing missing';
  try {
    execFileSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
      cwd: root,
      stdio: ['ignore', 'ignore', 'pipe'],
      encoding: 'utf8',
    });
  } catch (error) {
    throw new Error(
      `The npm packages could not be installed; check the connection to the npm registry and start again.\n${String(
        error.stderr ?? '',
      )
        .trim()
        .split('\n')
        .slice(-3)
        .join('\n')}`,
    );
  }
  mkdirSync(join(root, 'node_modules'), { recursive: true });
  writeFileSync(mark, lock);
  return 'installed';
}
