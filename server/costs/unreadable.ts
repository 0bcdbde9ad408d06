/** A file that cannot be read as a table; the message says why, for a sentence that begins with "it" or names the file. */
export class UnreadableSheet extends Error {}
