import type { ReactNode } from "react";
import type { JsonPath } from "../../../forms/jsonText";
import { useForm } from "./FormContext";
import { problemsAt } from "./schema";

interface Props {
  label: string;
  about?: string;
  path: JsonPath;
  children?: ReactNode;
}

/** The head of a field with parts: its name, what it is, and what is wrong with it as a whole. */
export function FieldHead({ label, about, path, children }: Props) {
  const { problems } = useForm();
  return (
    <>
      <p className="mt-1 flex items-center gap-2 font-medium">
        {label}
        {children}
      </p>
      {about && <p className="text-small text-soft">{about}</p>}
      {problemsAt(problems, path).map((sentence) => (
        <p key={sentence} role="alert" className="border-l-2 border-ink pl-2 text-small">
          {sentence}
        </p>
      ))}
    </>
  );
}
