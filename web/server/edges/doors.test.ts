import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const web = join(__dirname, '..', '..');

function filesOf(folder: string, name: RegExp): { path: string; text: string }[] {
  return readdirSync(join(web, folder), { recursive: true, encoding: 'utf8' })
    .filter((path) => name.test(path))
    .map((path) => ({ path, text: readFileSync(join(web, folder, path), 'utf8') }));
}

/** What anybody may ask: whether the database is there, and the page to sign in on. */
const open = ['health/route.ts', 'sign-in/page.tsx'];

describe('nobody comes in by a door that does not ask', () => {
  test('every route is made by route()', () => {
    const routes = filesOf('app/api', /route\.ts$/).filter(({ path }) => !open.includes(path));
    expect(routes.length).toBeGreaterThan(15);
    for (const { path, text } of routes) {
      const handlers = [...text.matchAll(/export (?:async )?(?:const|function) (GET|POST|PUT|DELETE|PATCH)\b/g)];
      expect({ path, handlers: handlers.length > 0 }).toEqual({ path, handlers: true });
      const guarded = [...text.matchAll(/export const (GET|POST) = route[<(]/g)];
      expect({ path, guarded: guarded.length }).toEqual({ path, guarded: handlers.length });
    }
  });

  test('every page asks who opens it before anything is loaded', () => {
    const pages = filesOf('app', /page\.tsx$/).filter(({ path }) => !open.includes(path));
    expect(pages.length).toBeGreaterThan(10);
    for (const { path, text } of pages) {
      const body = /export default async function \w+\([^)]*\) \{\n([^]*)/.exec(text)?.[1] ?? '';
      // The address is no question of who asks.
      const first = /await (\w+)/.exec(body.replace(/await (params|searchParams)\b/g, ''))?.[1];
      expect({ path, asks: ['signedIn', 'loadPlace', 'loadOfJob'].includes(first ?? '') }).toEqual({
        path,
        asks: true,
      });
    }
  });

  test('every action does its work for somebody', () => {
    const files = filesOf('features', /actions\.ts$/).filter(({ text }) => text.startsWith("'use server'"));
    expect(files.length).toBeGreaterThan(6);
    // Signing in is for whoever is not signed in yet.
    const [{ text: byHand }] = filesOf('features', /by-hand\.ts$/);
    expect(byHand).toMatch(/=>\s+action\('technician', schema, async \(input\) => \{\s+await refuseInvented\(/);
    const unasked = ['signIn', 'signInByCode', 'switchPerson', 'lockScreen', 'signOut'];
    for (const { path, text } of files) {
      const functions = [...text.matchAll(/export async function (\w+)\([^]*?\{\n([^]*?)\n\}\n/g)];
      const made = [...text.matchAll(/export const (\w+) = ([^]*?);\n/g)];
      for (const [, name, body] of [...functions, ...made]) {
        if (unasked.includes(name)) continue;
        const asks = /\b(changed|resultFor|action|question)\(\s*'(technician|lead)'|^byHand\(/.test(body);
        expect({ path, name, asks }).toEqual({ path, name, asks: true });
      }
    }
  });
});
