import { create } from 'zustand';

/** Something that only the artist can tell, with its two answers. */
export interface Question {
  readonly title: string;
  readonly text: string;
  readonly yes: string;
  readonly no: string;
}

interface Asked extends Question {
  readonly answer: (yes: boolean | null) => void;
}

/** The question that is being asked. */
export const useQuestion = create<{ readonly asked: Asked | null }>(() => ({ asked: null }));

/** Asks and waits. @returns null if the dialog was closed without an answer */
export function ask(question: Question): Promise<boolean | null> {
  useQuestion.getState().asked?.answer(null);
  return new Promise((resolve) => {
    const answer = (yes: boolean | null): void => {
      useQuestion.setState({ asked: null });
      resolve(yes);
    };
    useQuestion.setState({ asked: { ...question, answer } });
  });
}
