/** Splits a grade beside the interface: says how far it is, then who is in which class. */
import { balance, type SplitQuestion } from '#core/year/index';
import { randomFrom } from '#core/random/index';

export type SplitWord = { share: number; best: number } | { at: number[] } | { error: string };
const say = (word: SplitWord) => self.postMessage(word);

self.onmessage = ({ data }: MessageEvent<{ question: SplitQuestion; seed: number }>) => {
  try {
    const steps = balance(data.question, randomFrom(data.seed));
    for (let step = steps.next(); ; step = steps.next()) {
      if (step.done) return say({ at: step.value });
      say(step.value);
    }
  } catch (error) {
    say({ error: error instanceof Error ? error.message : String(error) });
  }
};
