import { sql, type Kysely } from 'kysely';

/** Which surfaces glow in which light is said beside the circuits of a plan; before, circuits named materials. */
export async function up(db: Kysely<unknown>): Promise<void> {
  for (const column of ['plan', 'trace']) {
    const plan = sql.ref(column);
    await sql`update bakes set ${plan} = ${plan} || jsonb_build_object(
      'circuits', (select coalesce(jsonb_agg(circuit - 'glows' order by n), '[]')
        from jsonb_array_elements(${plan}->'circuits') with ordinality as c (circuit, n)),
      'glows', (select coalesce(jsonb_agg(jsonb_build_object('lightId', circuit->'id', 'material', material, 'on', null, 'isUnit', false)), '[]')
        from jsonb_array_elements(${plan}->'circuits') as circuit, jsonb_array_elements(circuit->'glows') as material))`.execute(db);
  }
}
