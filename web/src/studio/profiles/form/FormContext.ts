import { createContext, useContext } from "react";
import type { ProfileVerdict } from "../../../api/types";
import type { Draft } from "../../../forms/useDraft";
import type { Schema } from "./schema";

/** What every field of the form reads and writes. */
export interface FormOf {
  schema: Schema;
  draft: Draft;
  problems: ProfileVerdict["problems"];
  /** Inputs of the renderer that would be exported differently, with how many looks. */
  changed: ReadonlyMap<string, number>;
}

export const FormContext = createContext<FormOf | null>(null);

export function useForm(): FormOf {
  const form = useContext(FormContext);
  if (!form) throw new Error("A field stands in a form.");
  return form;
}
