import { type NumberForm, show } from './number-form.ts';

/** "1 price", "12 prices". */
export function counted(count: number, one: string, many = `${one}s`, written = String(count)): string {
  return `${written} ${count === 1 ? one : many}`;
}

/** The same with the digits of many grouped, as somebody writes numbers. */
export function countedIn(form: NumberForm) {
  const whole = (count: number) => show(String(count), form);
  return { whole, counted: (count: number, one: string, many?: string) => counted(count, one, many, whole(count)) };
}
