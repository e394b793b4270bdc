import type { Knex } from 'knex';

interface Row {
  readonly project_id: string;
  readonly id: string;
  readonly revision: number | null;
  readonly body: string;
}
type Kept = Record<string, unknown> | undefined;
interface Body {
  version: number;
  readonly shader: string;
  readonly presets?: { values?: Kept }[];
  values?: Kept;
  pictures?: Kept;
  made?: Kept;
  sampling?: Kept;
}

/** Shaders' parameter ids by name. Names of older revisions count too: a material may still store a value under one. */
const readIds = async (db: Knex): Promise<ReadonlyMap<string, ReadonlyMap<string, string>>> => {
  const { rows } = await db.raw<{ rows: { key: string; id: string; name: string }[] }>(
    `SELECT r.project_id || ' ' || r.part_id AS key, p->>'id' AS id, p->>'name' AS name
     FROM (
       SELECT project_id, part_id, revision, body FROM part_revisions
       UNION ALL SELECT project_id, id, revision + 1, body FROM parts WHERE kind = 'shader'
     ) r
     JOIN parts s ON s.project_id = r.project_id AND s.id = r.part_id AND s.kind = 'shader'
     CROSS JOIN LATERAL json_array_elements(r.body->'parameters') p
     ORDER BY r.revision`,
  );
  const ids = new Map<string, Map<string, string>>();
  for (const { key, id, name } of rows) {
    const own = ids.get(key) ?? new Map<string, string>();
    ids.set(key, own.set(name, id));
  }
  return ids;
};

const rekeyed = (body: Body, ids: ReadonlyMap<string, string>): Body => {
  const map = (kept: Kept): Kept =>
    kept && Object.fromEntries(Object.entries(kept).map(([name, value]) => [ids.get(name) ?? name, value]));
  for (const key of ['values', 'pictures', 'made', 'sampling'] as const)
    if (body[key]) body[key] = map(body[key]);
  for (const preset of body.presets ?? []) preset.values = map(preset.values);
  return { ...body, version: 2 };
};

/** Materials store values by parameter id, no longer by name, so that a renamed parameter keeps them. */
export const up = async (db: Knex): Promise<void> => {
  const ids = await readIds(db);
  const { rows } = await db.raw<{ rows: Row[] }>(
    `SELECT project_id, id, NULL::integer AS revision, body::text FROM parts
     WHERE kind = 'material' AND (body->>'version')::integer < 2
     UNION ALL
     SELECT r.project_id, r.part_id, r.revision, r.body::text FROM part_revisions r
     JOIN parts p ON p.project_id = r.project_id AND p.id = r.part_id AND p.kind = 'material'
     WHERE (r.body->>'version')::integer < 2`,
  );
  for (const { project_id, id, revision, body: text } of rows) {
    const body = JSON.parse(text) as Body;
    const next = JSON.stringify(rekeyed(body, ids.get(`${project_id} ${body.shader}`) ?? new Map()));
    if (revision === null) await db('parts').where({ project_id, id }).update({ body: next });
    else await db('part_revisions').where({ project_id, part_id: id, revision }).update({ body: next });
  }
};

/** Ids stay: versions before this one read them as names that no parameter has. */
export const down = (): Promise<void> => Promise.resolve();
