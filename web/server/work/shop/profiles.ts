import { LRUCache } from 'lru-cache';
import { profileForModel, sayFinding, shippedProfile, shippedProfiles, type Profile } from '@umbral/core';
import { readProfileText } from '../../analysis/profile-text.ts';
import { json, type Queries } from '../../record/db.ts';
import { conflict, ExpectedError, missing } from '../../record/errors.ts';
import { addAudit } from '../../record/audit.ts';
import type { ProfileRow } from '../../record/tables.ts';

/** A profile with the version it is in; 0 is as shipped. */
export interface KnownProfile {
  profile: Profile;
  version: number;
}

export interface ProfileVersion {
  version: number;
  note: string;
  createdAt: Date | null;
}

const kept = new LRUCache<string, Profile>({ max: 40 });

/** Versions never change, so the same object is handed out each time and what was computed for it is found again. */
function same(row: ProfileRow): Profile {
  const key = `${row.profile_id}@${row.version}`;
  const known = kept.get(key);
  if (known) return known;
  kept.set(key, row.content);
  return row.content;
}

/** A profile in one version, or in its latest where none is named; null where there is no such profile. */
export async function findProfile(q: Queries, id: string, version: number | null = null): Promise<KnownProfile | null> {
  if (version !== 0) {
    const rows = q<ProfileRow>('profiles').where({ profile_id: id });
    const row = await (version === null ? rows.orderBy('version', 'desc') : rows.where({ version })).first();
    if (row) return { profile: same(row), version: row.version };
    if (version !== null) return null;
  }
  const shipped = shippedProfile(id);
  return shipped ? { profile: shipped, version: 0 } : null;
}

/** All profiles in their latest versions: the shop's own first, then those that came with the application. */
export async function listProfiles(q: Queries): Promise<KnownProfile[]> {
  const rows = await q<ProfileRow>('profiles')
    .distinctOn('profile_id')
    .select()
    .orderBy([{ column: 'profile_id' }, { column: 'version', order: 'desc' }]);
  const own = rows.map((row) => ({ profile: same(row), version: row.version }));
  const named = new Set(rows.map((r) => r.profile_id));
  const shipped = shippedProfiles.filter((p) => !named.has(p.id)).map((profile) => ({ profile, version: 0 }));
  return [...own, ...shipped];
}

/** Versions of a profile, the newest first, with what was said about each. */
export async function versionsOf(q: Queries, id: string): Promise<ProfileVersion[]> {
  const rows = await q<ProfileRow>('profiles')
    .where({ profile_id: id })
    .orderBy('version', 'desc')
    .select('version', 'note', 'created_at');
  const own = rows.map((r): ProfileVersion => ({ version: r.version, note: r.note, createdAt: r.created_at }));
  return shippedProfile(id) ? [...own, { version: 0, note: 'as shipped', createdAt: null }] : own;
}

/** The profile that a model's name means, the shop's own before those that came with the application. */
export async function profileOfModel(q: Queries, model: string): Promise<KnownProfile | null> {
  if (model.trim() === '') return null;
  const all = await listProfiles(q);
  const found = profileForModel(
    model,
    all.map((p) => p.profile),
  );
  return all.find((p) => p.profile === found) ?? null;
}

/**
 * Reads and keeps a profile as a new version of its id.
 *
 * @param text JSON or YAML
 * @param basedOn version that was edited; null for one that is imported, which then follows the latest
 * @throws {ExpectedError} with every finding and its path where it is not a profile, nothing then being kept
 */
export async function saveProfile(
  q: Queries,
  text: string,
  options: { fileName: string; note: string; basedOn: number | null; mustBe?: string },
): Promise<KnownProfile> {
  const { profile, findings } = await readProfileText(text, options.fileName);
  if (!profile) {
    const errors = findings.filter((f) => f.severity === 'error').map(sayFinding);
    throw new ExpectedError('input', errors.join('\n') || `${options.fileName}: is not a profile`);
  }
  if (options.mustBe !== undefined && profile.id !== options.mustBe)
    throw new ExpectedError(
      'input',
      `id: is "${profile.id}"; expected "${options.mustBe}". A copy is imported as a file.`,
    );
  if (profile.generic || shippedProfile(profile.id)?.generic)
    throw new ExpectedError(
      'input',
      'generic: generic profiles cannot be changed; enter a new id and name, and set "generic": false',
    );
  await q.raw('SELECT pg_advisory_xact_lock(?, hashtext(?))', [4713, profile.id]);
  const latest = await findProfile(q, profile.id);
  if (options.basedOn !== null && (latest?.version ?? 0) !== options.basedOn) throw conflict();
  const version = (latest?.version ?? 0) + 1;
  await q('profiles').insert({
    profile_id: profile.id,
    version,
    name: profile.name,
    note: options.note,
    content: json(profile),
  });
  await addAudit(q, null, `profile ${profile.id}: version ${version}`, { note: options.note });
  return { profile, version };
}

/** Lets a job use the latest version of its profile, or another profile, or none. */
export async function chosenProfile(
  q: Queries,
  id: string | null,
): Promise<{ profile: string | null; profile_version: number }> {
  if (id === null) return { profile: null, profile_version: 0 };
  const found = await findProfile(q, id);
  if (!found) throw missing(`Profile ${id}`);
  return { profile: id, profile_version: found.version };
}
