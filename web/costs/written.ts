import type { Written } from '#contract/cost-rows.ts';
import { type NumberForm, show, showDay, shorten } from '../kit/number-form.ts';

/** Figures and days of a cost in the reader's form. */
export const writtenIn = (form: NumberForm): Written => ({
  number: (text) => show(text, form),
  short: (text) => show(shorten(text, 4), form),
  day: (text) => showDay(text, form),
});
