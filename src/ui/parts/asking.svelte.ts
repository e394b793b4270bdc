/** A question with a few answers, shown until one is chosen. */
export interface Question {
  readonly title: string;
  readonly sentence: string;
  readonly answers: readonly { readonly value: string; readonly label: string }[];
}

let asked = $state.raw<(Question & { readonly answer: (value: string | null) => void }) | null>(null);

/** The question that is open, for the dialog that shows it. */
export const openQuestion = () => asked;

/** Asks the author. @returns the value of the answer chosen; null where it was cancelled, or another question came */
export const ask = (question: Question): Promise<string | null> => {
  asked?.answer(null);
  return new Promise((resolve) => {
    const answer = (value: string | null): void => {
      asked = null;
      resolve(value);
    };
    asked = { ...question, answer };
  });
};
