/** So many questions are kept; of more, those alone that are under way. */
const KEPT = 100;

/**
 * A question that many ask at the same time is asked once for all of them. Who comes while it is under way waits for the next
 * one: what was written before they asked may not be in the answer that is on its way.
 */
export function atOnce<A, T>(ask: (about: A) => Promise<T>): (about: A) => Promise<T> {
  const questions = new Map<string, Question<T>>();
  return (about) => {
    const key = JSON.stringify(about);
    let question = questions.get(key);
    if (!question) {
      if (questions.size >= KEPT) for (const [other, { idle }] of questions) if (idle) questions.delete(other);
      questions.set(key, (question = new Question(() => ask(about))));
    }
    return question.answer();
  };
}

class Question<T> {
  private next: Promise<T> | null = null;
  private underWay: Promise<T> | null = null;

  constructor(private readonly ask: () => Promise<T>) {}

  get idle(): boolean {
    return this.next === null && this.underWay === null;
  }

  answer(): Promise<T> {
    return (this.next ??= this.inTurn());
  }

  private async inTurn(): Promise<T> {
    await this.underWay?.catch(() => null);
    this.next = null;
    const asked = this.ask();
    this.underWay = asked;
    try {
      return await asked;
    } finally {
      if (this.underWay === asked) this.underWay = null;
    }
  }
}
