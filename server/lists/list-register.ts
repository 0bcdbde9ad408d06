import { wrongField } from '../platform/refused.ts';
import { columnRegister } from '../setup/column-register.ts';
import { keptLists } from './kept-lists.ts';

export const listRegister = columnRegister(keptLists, (_, body, id) => {
  if (id === null && body.active)
    throw wrongField('active', 'a new list begins inactive: activate it once it holds what it should');
  if (body.from && body.to && body.to < body.from) throw wrongField('to', 'the last day lies before the first');
  return Promise.resolve();
});
