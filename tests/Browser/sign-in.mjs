import { request } from '@playwright/test';
import { readFileSync, writeFileSync } from 'node:fs';

const people = JSON.parse(readFileSync(new URL('../../demo/people.json', import.meta.url)));

/** Where the cookies of whoever has signed in to a demo are kept, from test to test. */
export const stateFile = `${process.env.YPOMNA_DATA}/signed-in.json`;
export const passwordOf = name => people.find(person => person.name === name).password;

/** Signs somebody in without a browser; gives the state that a browser's context begins with. */
export async function signedIn(base, name = 'Tomas Okoye', password = passwordOf(name)) {
  const context = await request.newContext({ baseURL: base, storageState: { cookies: [], origins: [] } });
  const form = await (await context.get('/sign-in')).text();
  const token = /name="_token" value="([^"]+)"/.exec(form)[1];
  const answer = await context.post('/sign-in', { form: { _token: token, name, password, to: '/me' } });
  if (!answer.ok() || !(await answer.text()).includes(name)) throw new Error(`${name} was not let in: ${answer.status()}`);
  const state = await context.storageState();
  await context.dispose();
  return state;
}

// The custodian, who may do all that a demo is tried with.
export default async function setUp() {
  if (process.env.YPOMNA_BASE !== 'none')
    writeFileSync(stateFile, JSON.stringify(await signedIn(process.env.YPOMNA_BASE)), { mode: 0o600 });
}
