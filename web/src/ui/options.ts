/** One of a list to choose from: its own value, and the words that people see. */
export interface Option {
  value: string;
  words: string;
  /** Said beside the words in a lower voice: a unit, a number, a reason. */
  note?: string;
  disabled?: boolean;
}

/** Stands for the empty value (“any role”, the neutral renderer), which the primitives take for no choice at all. */
export const emptyValue = "\u2205";

export interface ChoiceProps {
  /** The accessible name of the control. */
  label: string;
  value: string;
  options: readonly Option[];
  onChange: (value: string) => void;
  /** Shown while nothing is chosen. */
  placeholder?: string;
  className?: string;
  disabled?: boolean;
  /** For tests, which do not look for words. */
  testid?: string;
}

export const wordsOf = (options: readonly Option[], value: string) => options.find((o) => o.value === value)?.words;
