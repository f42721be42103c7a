// A PostgreSQL cluster of the project's own: loopback only, a free port, made at the first start.
import { execFileSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import {
  chmodSync,
  chownSync,
  existsSync,
  mkdirSync,
  readFileSync,
  readdirSync,
  statSync,
  writeFileSync,
  rmSync,
} from 'node:fs';
import { createServer } from 'node:net';
import { createHash } from 'node:crypto';
import { dirname, join } from 'node:path';

const asRoot = process.getuid?.() === 0;

function binaries() {
  const base = '/usr/lib/postgresql';
  const versions = existsSync(base) ? readdirSync(base).sort((a, b) => Number(b) - Number(a)) : [];
  const found = versions.map((v) => join(base, v, 'bin')).find((b) => existsSync(join(b, 'initdb')));
  if (!found)
    throw new Error('PostgreSQL is not installed: install it with "sudo apt-get install postgresql" and start again.');
  return found;
}

/** PostgreSQL refuses root: its programs run as user postgres then. */
function run(program, args) {
  const [command, rest] = asRoot ? ['runuser', ['-u', 'postgres', '--', program, ...args]] : [program, args];
  return execFileSync(command, rest, { cwd: '/', encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] });
}

/** A free port: the one that is wanted, when it is free. */
function freePort(wanted = 0) {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', (error) => (wanted ? freePort().then(resolve, reject) : reject(error)));
    probe.listen(wanted, '127.0.0.1', () => {
      const { port } = probe.address();
      probe.close(() => resolve(port));
    });
  });
}

/** Whether another user can reach a folder: every parent must let others through. */
function reachable(folder) {
  for (let at = folder; ; at = dirname(at)) {
    if (existsSync(at) && !(statSync(at).mode & 0o001)) return false;
    if (at === dirname(at)) return true;
  }
}

/** The cluster's folder: in the project, or under /var/tmp when user postgres cannot reach the project. */
function clusterFolder(wanted) {
  if (!asRoot || reachable(dirname(wanted))) return wanted;
  return join('/var/tmp', `june-haze-${createHash('sha256').update(wanted).digest('hex').slice(0, 12)}`);
}

/**
 * Starts the cluster, making it first if need be. Returns its URL and how to stop it. What lies in a `throwaway` one may be lost with the
 * machine: it does not wait for the disk.
 */
export async function startPostgres(wanted, { throwaway = false } = {}) {
  const bin = binaries();
  const folder = clusterFolder(wanted);
  const data = join(folder, 'data');
  const secret = join(folder, 'password');
  mkdirSync(folder, { recursive: true });
  if (!existsSync(join(data, 'PG_VERSION'))) {
    rmSync(data, { recursive: true, force: true });
    writeFileSync(secret, randomBytes(24).toString('hex'), { mode: 0o600 });
    if (asRoot) {
      const [uid, gid] = ['-u', '-g'].map((flag) =>
        Number(execFileSync('id', [flag, 'postgres'], { encoding: 'utf8' })),
      );
      for (const path of [folder, secret]) chownSync(path, uid, gid);
      chmodSync(folder, 0o755);
    }
    run(join(bin, 'initdb'), [
      '-D',
      data,
      '-U',
      'june',
      '--auth=scram-sha-256',
      `--pwfile=${secret}`,
      '-E',
      'UTF8',
      '--locale=C.UTF-8',
    ]);
  }
  const pid = join(data, 'postmaster.pid');
  const lineOfPid = (n) => readFileSync(pid, 'utf8').split('\n')[n].trim();
  /** Whether it answers: a killed one still counts as running until its parent has noticed. */
  const alive = () => {
    try {
      run(join(bin, 'pg_isready'), ['-q', '-h', '127.0.0.1', '-p', lineOfPid(3)]);
      return true;
    } catch {
      return false;
    }
  };
  const started = !alive();
  if (started) {
    // The port of the last time, so that whoever was connected finds it again.
    const kept = join(folder, 'port');
    const port = await freePort(existsSync(kept) ? Number(readFileSync(kept, 'utf8')) : 0);
    writeFileSync(kept, String(port));
    const disk = throwaway ? '-c fsync=off -c synchronous_commit=off -c full_page_writes=off' : '-c fsync=on';
    const options = `-c listen_addresses=127.0.0.1 -c port=${port} -c unix_socket_directories='' ${disk} -c max_connections=40`;
    const start = ['-D', data, '-l', join(folder, 'log'), '-w', '-t', '60', '-o', options, 'start'];
    // What a killed one left running holds on to the data for a moment.
    for (let tried = 1; !alive(); tried++) {
      try {
        run(join(bin, 'pg_ctl'), start);
      } catch (error) {
        if (tried === 40) throw error;
        await new Promise((done) => setTimeout(done, 500));
      }
    }
  }
  const port = lineOfPid(3);
  const url = `postgres://june:${readFileSync(secret, 'utf8')}@127.0.0.1:${port}/postgres`;
  return {
    url,
    pid: Number(lineOfPid(0)),
    alive,
    stop() {
      if (started) run(join(bin, 'pg_ctl'), ['-D', data, '-m', 'fast', '-w', 'stop']);
    },
  };
}
