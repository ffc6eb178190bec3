import { defineModel } from '@gaveta/server';

const number = (label: string) => ({ label, type: 'number' }) as const;
const text = (label: string) => ({ label, type: 'text' }) as const;
const one = (label: string, here: string) => ({ label, to: 'shelter', kind: 'one', on: { [here]: 'id' } }) as const;

/** Wardens by the hut that they keep, and by the one where they stand in: two ways from one table to another. */
export const roundsModel = defineModel({
  name: 'rounds',
  label: 'Rounds',
  connection: 'cumeeira',
  entities: {
    shelter: {
      ...{ label: 'Shelter', plural: 'Shelters', table: 'hut', key: 'id' },
      fields: { id: { ...number('Id'), hidden: true }, name: text('Name'), beds: number('Beds') },
    },
    round: {
      ...{ label: 'Round', plural: 'Rounds', table: 'warden', key: 'id' },
      fields: { id: number('Number'), hut_id: { ...number('Hut'), hidden: true }, name: text('Kept by') },
      relations: { keeps: one('Own shelter', 'hut_id'), stands_in: one('Relief shelter', 'id') },
    },
  },
});
