import {
  parameterSchema,
  planRecipe,
  RowProblem,
  readParameters,
  type Step,
  saidValue,
  type WireRow,
} from '@gaveta/core/internal';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Claims } from '../access/claims.ts';
import type { Connection, DatabaseConnection } from '../connection/connection.ts';
import { embeddedConnection } from '../connection/pglite.ts';
import { defineModel } from '../model/define.ts';
import { number, text } from '../model/fields.test-support.ts';
import { RecipeDesk } from '../recipes/desk.ts';

const model = defineModel({
  name: 'works',
  label: 'Works',
  connection: 'main',
  entities: {
    hut: {
      label: 'Hut',
      plural: 'Huts',
      key: 'id',
      fields: { id: number, name: text, region: text, alarm_code: { ...text, hidden: true } },
      scope: (claims) => (claims.role === 'office' ? 'everything' : { keep: 'region = CLAIM("region")' }),
    },
  },
});

/** What the office may not see either: another schema, another table, and a hidden field. */
const PREPARE = `
  create table hut (id int primary key, name text, region text, alarm_code text);
  insert into hut values (1, 'Brecha', 'North', 'SECRET-1'), (2, 'Longa', 'South', 'SECRET-2');
  create table payroll (name text, pay numeric);
  insert into payroll values ('SECRET-pay', 1);
  create schema vault;
  create table vault.gold (place text);
  insert into vault.gold values ('SECRET-gold');
  create function leak() returns text language sql security definer as $$ select place from vault.gold limit 1 $$;
  create function burn() returns int language sql as $$ delete from hut; select 1 $$;
  create sequence counter;`;

let database: DatabaseConnection;
beforeAll(() => {
  database = embeddedConnection({ data: null, prepare: PREPARE });
});
afterAll(() => database.close?.());

const warden: Claims = { role: 'warden', region: 'North' };
const parameters = [
  parameterSchema.parse({ name: 'wanted', label: 'Wanted', type: 'text' }),
  parameterSchema.parse({ name: 'several', label: 'Several', type: 'choices' }),
];

const ask = async (
  step: Step,
  { claims = warden, given = {}, seconds = 5 }: { claims?: Claims; given?: object; seconds?: number } = {},
): Promise<{ rows: WireRow[]; refused: string | null }> => {
  const steps: Step[] = [step];
  const recipe = planRecipe(
    { name: 'asked', steps },
    { models: [model.model], recipe: () => null, queries: [], parameters },
  );
  const report = { name: '', language: 'en', timeZone: 'UTC', parameters };
  const options = {
    models: new Map([['works', model]]),
    connections: new Map<string, Connection>([['main', database]]),
    claims,
    seconds,
    report,
    values: readParameters(report, given as never).values,
  };
  let desk: RecipeDesk | null = null;
  try {
    desk = await RecipeDesk.open([recipe], options);
    return { rows: (await desk.rows(recipe, 100)).rows, refused: null };
  } catch (error) {
    if (error instanceof RowProblem) return { rows: [], refused: saidValue(error.data.detail ?? '') };
    return { rows: [], refused: error instanceof Error ? error.message : String(error) };
  } finally {
    await desk?.close();
  }
};

const written = (statement: string): Step => ({
  step: 'sql',
  model: 'works',
  text: statement,
  columns: [{ name: 'x', type: 'text' }],
});

const HOSTILE: Record<string, string[]> = {
  writing: [
    `insert into hut values (9, 'x', 'North', 'x')`,
    `update hut set name = 'x' returning name as x`,
    `delete from hut returning name as x`,
    `merge into hut using (select 1) s on true when matched then delete`,
    `truncate hut`,
    `with gone as (delete from hut returning name) select name as x from gone`,
    `with made as (insert into hut values (9, 'x', 'North', 'x') returning name) select name as x from made`,
    `with changed as (update hut set name = 'x' returning name) select name as x from changed`,
    `select name as x into stolen from hut`,
    `create table stolen as select name as x from hut`,
    `select burn()::text as x`,
    `select name as x from hut for update`,
    `select name as x from hut for share`,
    `select nextval('counter')::text as x`,
    `select setval('counter', 99)::text as x`,
    `drop table hut`,
    `alter table hut add column x text`,
    `grant select on payroll to public`,
    `comment on table hut is 'x'`,
    `lock table hut`,
    `vacuum`,
  ],
  'several statements': [
    `select name as x from hut; delete from hut`,
    `select 1 as x;;select 2`,
    `commit; delete from hut; begin`,
    `select name as x from hut -- ;\n; drop table hut`,
    `rollback`,
    `set role postgres`,
    `reset role`,
    `begin`,
    `prepare p as select 1`,
    `execute p`,
    `declare c cursor for select 1`,
    `do $$ begin delete from hut; end $$`,
    `call burn()`,
    `copy hut to '/tmp/stolen'`,
    `copy (select 1) to program 'touch /tmp/stolen'`,
    `explain analyze delete from hut`,
    `listen x`,
  ],
  'other tables and schemas': [
    `select name as x from payroll`,
    `select place as x from vault.gold`,
    `select name as x from public.hut`,
    `select name as x from "public"."hut"`,
    `table payroll`,
    `select h.name as x from hut h, payroll`,
    `select (select name from payroll limit 1) as x from hut`,
    `select name as x from hut where exists (select 1 from payroll)`,
    `with recursive r as (select name from payroll union select name from r) select name as x from r`,
    `with hut as (select name from public.hut) select name as x from hut`,
    `select name as x from hut union all select name from payroll`,
    `select rolname::text as x from pg_authid`,
    `select relname::text as x from pg_class`,
    `select table_name::text as x from information_schema.tables`,
    `select query as x from pg_stat_activity`,
    `select x from (values ('a')) v(x), lateral (select * from payroll) p`,
    `select 'payroll'::regclass::text as x`,
    `select name as x from only public.hut`,
  ],
  'functions that reach out': [
    `select pg_read_file('/etc/passwd') as x`,
    `select pg_ls_dir('/') as x`,
    `select lo_import('/etc/passwd')::text as x`,
    `select query_to_xml('select * from payroll', true, true, '')::text as x`,
    `select table_to_xml('payroll', true, true, '')::text as x`,
    `select database_to_xml(true, true, '')::text as x`,
    `select xpath('/x', query_to_xml('select * from payroll', true, true, ''))::text as x`,
    `select set_config('role', 'postgres', false) as x`,
    `select current_setting('data_directory') as x`,
    `select current_user::text as x`,
    `select session_user::text as x`,
    `select version() as x`,
    `select pg_sleep(20)::text as x`,
    `select pg_terminate_backend(1)::text as x`,
    `select dblink('host=evil', 'select 1')::text as x`,
    `select leak() as x`,
    `select public.leak() as x`,
    `select pg_catalog.pg_read_file('/etc/passwd') as x`,
    `select x from leak() as x`,
    `select pg_get_viewdef('hut')::text as x`,
    `select inet_server_addr()::text as x`,
    `select has_table_privilege('payroll', 'select')::text as x`,
    `select txid_current()::text as x`,
    `select 1 operator(pg_catalog.+) 1 as x`,
    `select xmlparse(document '<!DOCTYPE a [<!ENTITY e SYSTEM "file:///etc/passwd">]><a>&e;</a>')::text as x`,
  ],
  'hidden fields': [
    `select alarm_code as x from hut`,
    `select h.alarm_code as x from hut h`,
    `select name as x from hut where alarm_code like 'S%'`,
  ],
  'what is no statement': [
    ``,
    `;`,
    `select`,
    `selec name`,
    `select 'open`,
    `/* open`,
    `select $1 as x`,
    `\\copy hut to x`,
    `select name as x from hut\u0000`,
  ],
};

describe('a statement written by hand', () => {
  for (const [kind, list] of Object.entries(HOSTILE)) {
    it.each(list)(`refuses ${kind}: %s`, async (statement) => {
      const { rows, refused } = await ask(written(statement));
      expect(refused).not.toBeNull();
      expect(rows).toEqual([]);
      expect(refused).not.toContain('SECRET');
    });
  }

  it('lets reading statements through, over the rows of the caller alone', async () => {
    const fine = [
      `select name as x from hut`,
      `select h.name as x from hut h where h.region <> 'x' order by 1;`,
      `with mine as (select * from hut) select name as x from mine`,
      `with hut as (select name from hut) select name as x from hut`,
      `select string_agg(name, ', ') as x from hut having count(*) > 0`,
      `select x from (select name as x, row_number() over (partition by region order by name) n from hut) q where n = 1`,
      `select name as x from hut where name like 'B%' or name = any(array['Longa'])`,
      `select coalesce(nullif(trim(name), ''), '-') as x from hut where id in (select id from hut)`,
      `select case when extract(year from now()) > 2000 then name else 'old' end as x from hut`,
    ];
    for (const statement of fine) {
      expect(await ask(written(statement)), statement).toEqual({ rows: [['Brecha']], refused: null });
    }
    expect(
      (await ask(written(`select name as x from hut order by id`), { claims: { role: 'office' } })).rows,
    ).toHaveLength(2);
    expect((await ask(written(`select name as x from hut`), { claims: { role: 'warden' } })).rows).toEqual([]);
  });

  it('tells nothing of rows outside of the scope by its errors', async () => {
    // The row of the other region would divide by zero.
    const probe = written(`select (1 / (case region when 'South' then 0 else 1 end))::text as x from hut`);
    expect(await ask(probe)).toEqual({ rows: [['1']], refused: null });
  });

  it('says where it is wrong', async () => {
    expect((await ask(written('select nam as x from hut'))).refused).toContain('nam');
    expect((await ask(written('select name as x frm hut'))).refused).toContain('near "frm"');
  });

  it('ends at its limit, and what others asked meanwhile goes on', async () => {
    const runaway = ask(
      written(`select count(*)::text as x from generate_series(1, 100000000) a, generate_series(1, 1000) b`),
      { seconds: 3 },
    );
    const other = ask({ step: 'take', from: { model: 'works', entity: 'hut' } }, { claims: { role: 'office' } });
    expect(await Promise.race([runaway.then(() => 'the runaway'), other.then(() => 'the other')])).toBe('the other');
    expect((await other).rows).toHaveLength(2);
    expect((await runaway).refused).toContain('ended after 3 seconds');
    // The next one starts anew.
    expect((await ask(written(`select name as x from hut`))).rows).toHaveLength(1);
  });

  it('leaves the data as it was', async () => {
    const { rows } = await ask(
      { step: 'take', from: { model: 'works', entity: 'hut' } },
      { claims: { role: 'office' } },
    );
    expect(rows.map((r) => r[1])).toEqual(['Brecha', 'Longa']);
  });
});

describe('hostile values', () => {
  const VALUES = [
    `' or '1'='1`,
    `'; delete from hut; --`,
    `North' union select alarm_code from hut --`,
    `\\'; drop table hut; --`,
    `$1`,
    `$$; select 1; $$`,
    `:wanted`,
    `{"North","South"}`,
    `North","South`,
    `","SOUTH`,
    `NULL`,
    `%`,
    `_____`,
    `\u0000`,
    `ʼ or 1=1`,
    `North\n--`,
    `x'::text) or true or ('a`,
  ];
  it.each(VALUES)('are values and nothing else: %j', async (value) => {
    const statement = written(`select name as x from hut where region = :wanted or name = any(:several)`);
    for (const given of [{ wanted: value }, { several: [value] }]) {
      const { rows, refused } = await ask(statement, { given });
      expect(rows).toEqual([]);
      if (refused) expect(refused).toMatch(/invalid byte sequence|null character|0x00/);
    }
    const kept: Step[] = [
      { step: 'take', from: { model: 'works', entity: 'hut' } },
      { step: 'keep', where: { field: 'name', is: 'equal', to: { value } } },
    ];
    const recipe = planRecipe(
      { name: 'k', steps: kept },
      { models: [model.model], recipe: () => null, queries: [], parameters },
    );
    expect(recipe.problems).toEqual([]);
  });

  it('are bound where a parameter stands, whatever is around it', async () => {
    const given = { wanted: 'Brecha' };
    expect((await ask(written(`select ':wanted' as x`), { given })).rows).toEqual([[':wanted']]);
    expect((await ask(written(`select name as x from hut where name = :wanted -- :several`), { given })).rows).toEqual([
      ['Brecha'],
    ]);
    expect((await ask(written(`select '12'::int::text as x`), { given })).rows).toEqual([['12']]);
  });
});
