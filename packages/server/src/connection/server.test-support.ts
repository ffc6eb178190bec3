import { execFileSync, spawn } from 'node:child_process';
import { chownSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';

const ROOT = '/usr/lib/postgresql';

/** Folder with the programs of Debian's PostgreSQL, the newest that is installed. */
const programs = (): string => {
  const [newest] = readdirSync(ROOT).sort((a, b) => Number(b) - Number(a));
  return join(ROOT, newest!, 'bin');
};

const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const probe = createServer();
    probe.listen(0, 'localhost', () => {
      const address = probe.address();
      probe.close(() => resolve(typeof address === 'object' && address ? address.port : 0));
    });
  });

export interface TestServer {
  host: string;
  port: number;
  user: string;
  password: string;
  database: string;
  stop(): Promise<void>;
}

/** A PostgreSQL server of its own, with an empty database, for as long as a test needs it. It does not run as root. */
export const startPostgres = async (): Promise<TestServer> => {
  const folder = mkdtempSync(join(tmpdir(), 'gaveta-postgres-'));
  const port = await freePort();
  const bin = programs();
  const isRoot = process.getuid?.() === 0;
  const id = (flag: string): number => Number(execFileSync('id', [flag, 'postgres']).toString());
  const identity = isRoot ? { uid: id('-u'), gid: id('-g') } : {};
  if (isRoot) chownSync(folder, id('-u'), id('-g'));
  const data = join(folder, 'data');
  const password = 'a password of the test';
  const passwordFile = join(folder, 'password');
  writeFileSync(passwordFile, password, { mode: 0o644 });
  const asPostgres = (program: string, args: string[]): void => {
    execFileSync(join(bin, program), args, { ...identity, cwd: folder, stdio: 'pipe' });
  };
  asPostgres('initdb', [
    '-D',
    data,
    '-U',
    'keeper',
    '--auth=scram-sha-256',
    `--pwfile=${passwordFile}`,
    '-E',
    'UTF8',
    '--locale=C.UTF-8',
    '--no-sync',
  ]);
  const server = spawn(
    join(bin, 'postgres'),
    ['-D', data, '-p', String(port), '-k', folder, '-c', 'fsync=off', '-c', 'listen_addresses=localhost'],
    {
      ...identity,
      cwd: folder,
      stdio: 'ignore',
    },
  );
  for (let tries = 0; ; tries++) {
    try {
      asPostgres('pg_isready', ['-h', 'localhost', '-p', String(port), '-t', '1']);
      break;
    } catch (error) {
      if (tries > 60) throw error;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  }
  return {
    host: 'localhost',
    port,
    user: 'keeper',
    password,
    database: 'postgres',
    stop: () =>
      new Promise((resolve) => {
        server.once('exit', () => {
          rmSync(folder, { recursive: true, force: true });
          resolve();
        });
        server.kill('SIGINT');
      }),
  };
};

/** Such a server whose database was made by statements. */
export const startPostgresWith = async (statements: string): Promise<TestServer> => {
  const server = await startPostgres();
  const client = new pg.Client(server);
  await client.connect();
  try {
    await client.query(statements);
  } finally {
    await client.end();
  }
  return server;
};
