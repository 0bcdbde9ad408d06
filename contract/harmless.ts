/**
 * A text cell for another program: what begins with = + - @ (or a tab or a line break before these) would be carried out
 * as a formula there, so an apostrophe stands before it. Never used for numbers. `asTyped` takes it away again.
 */
export function harmless(text: string): string {
  return /^[\t\r\n]*[=+\-@]/.test(text) ? `'${text}` : text;
}

/** The text as it was before `harmless`. */
export function asTyped(text: string): string {
  return /^'[\t\r\n]*[=+\-@]/.test(text) ? text.slice(1) : text;
}
