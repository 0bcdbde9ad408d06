import { type NumberForm, show } from './number-form.ts';

/** "1 price", "12 prices". */
export function counted(count: number, one: string, many = `${one}s`): string {
  return `${count} ${count === 1 ? one : many}`;
}

/** The same with the digits of many grouped, as somebody writes numbers. */
export const countedIn = (form: NumberForm) => ({
  whole: (count: number) => show(String(count), form),
  counted: (count: number, one: string, many = `${one}s`) => `${show(String(count), form)} ${count === 1 ? one : many}`,
});
