import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { connect, type Connection } from '../src/database/connect.ts';

/** A database of its own in the cluster that `npm test` starts, with all tables; dropped by `close`. */
export async function openTestDatabase(): Promise<Connection> {
  const cluster = process.env.JUNE_TEST_CLUSTER;
  if (!cluster) throw new Error('These tests need a database: run them with "npm test jest".');
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  const admin = async (statement: string) => {
    const client = new pg.Client({ connectionString: cluster });
    await client.connect();
    await client.query(statement);
    await client.end();
  };
  await admin(`create database ${name}`);
  const url = new URL(cluster);
  url.pathname = `/${name}`;
  const connection = await connect(url.href);
  return {
    ...connection,
    async close() {
      await connection.close();
      await admin(`drop database ${name} with (force)`);
    },
  };
}
