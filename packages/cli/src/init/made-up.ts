import type { ModelInput } from '@gaveta/server';

/** The data model of the rows that come with a starter: all of them are invented. */
export const MADE_UP_MODEL: ModelInput = {
  name: 'huts',
  label: 'Mountain huts',
  connection: 'office',
  entities: {
    hut: {
      label: 'Hut',
      plural: 'Huts',
      key: 'id',
      fields: {
        id: { label: 'Number', type: 'number' },
        name: { label: 'Name', type: 'text' },
        region: { label: 'Region', type: 'text' },
        beds: { label: 'Beds', type: 'number' },
      },
      relations: { stays: { label: 'Stays', to: 'stay', kind: 'many', on: { id: 'hut_id' } } },
    },
    stay: {
      label: 'Stay',
      plural: 'Stays',
      key: 'id',
      fields: {
        id: { label: 'Number', type: 'number' },
        hut_id: { label: 'Hut number', type: 'number' },
        guest: { label: 'Guest', type: 'text' },
        arrival: { label: 'Arrival', type: 'date', format: 'd mmm yyyy' },
        nights: { label: 'Nights', type: 'number' },
        amount: { label: 'Amount', type: 'number', format: '#,##0.00' },
      },
      relations: { hut: { label: 'Hut', to: 'hut', kind: 'one', on: { hut_id: 'id' } } },
    },
  },
};

/** Opens a database in the folder of the application, and puts rows into it when it is new. */
export const MADE_UP_DATABASE = `import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { PGlite } from '@electric-sql/pglite';

/** A PostgreSQL database inside this process, kept in a folder. Its rows are made up. */
export const openDatabase = async () => {
  const folder = join(import.meta.dirname, 'data');
  mkdirSync(folder, { recursive: true });
  const database = await PGlite.create(join(folder, 'database'));
  await database.exec(\`
    create table if not exists hut (id int primary key, name text not null, region text not null, beds int not null);
    create table if not exists stay (
      id int primary key, hut_id int not null references hut, guest text not null,
      arrival date not null, nights int not null, amount numeric(10,2) not null
    );
    insert into hut values
      (1, 'Pedra Longa', 'Serra Alta', 24), (2, 'Vale Frio', 'Serra Alta', 18), (3, 'Lagoa Escura', 'Ilha de Pedra', 40),
      (4, 'Bico da Garça', 'Ilha de Pedra', 60), (5, 'Casa da Brecha', 'Alto Norte', 12)
    on conflict do nothing;
    insert into stay
      select n, 1 + n % 5, (array['Inês Prado', 'Rui Albuquerque', 'Elif Cabral', 'Tomás Girão'])[1 + n * 7 % 4],
        date '2026-06-01' + n * 3 % 90, 1 + n % 4, (1 + n % 4) * 29.50
      from generate_series(1, 120) n
    on conflict do nothing;
  \`);
  return database;
};
`;
