import { screen } from '@testing-library/react';
import type { UserEvent } from '@testing-library/user-event';

/** Chooses one of a few by its value or its title, in a page's own control or in the browser's. */
export async function choose(user: UserEvent, control: HTMLElement, what: string): Promise<void> {
  if (control instanceof HTMLSelectElement) return user.selectOptions(control, what);
  await user.click(control);
  const options = await screen.findAllByRole('option');
  const one = options.find((o) => o.dataset['value'] === what || o.textContent === what);
  if (!one) throw new Error(`no “${what}” among ${options.map((o) => o.textContent).join(', ')}`);
  await user.click(one);
}
