import { FieldRow } from "../../../forms/FieldRow";
import { partAt, type JsonPath } from "../../../forms/jsonText";
import { useForm } from "./FormContext";
import { ListField } from "./ListField";
import { ObjectField } from "./ObjectField";
import { isOptional, kindOf, problemsAt, resolved, type Schema } from "./schema";
import { SimpleEntry } from "./SimpleEntry";
import { TableField } from "./TableField";

interface Props {
  name: string;
  path: JsonPath;
  schema: Schema;
  /** The object that the field is a part of. */
  around: Schema;
}

/** A field of a profile: what its schema says decides what it is entered with. */
export function SchemaField({ name, path, schema: given, around }: Props) {
  const form = useForm();
  const schema = resolved(form.schema, given);
  const value = partAt(form.draft.value, path);
  const label = schema.title ?? name;
  const optional = isOptional(around, name);
  const field = { label, about: schema.description, schema, path, value, optional };
  switch (kindOf(schema)) {
    case "object":
      return <ObjectField {...field} />;
    case "list":
      return <ListField {...field} />;
    case "table":
      return <TableField {...field} />;
    default:
      return (
        <FieldRow
          label={label}
          unit={schema["x-unit"]}
          about={schema.description}
          problems={problemsAt(form.problems, path)}
          testid={`field-${path.join("-")}`}
        >
          <SimpleEntry label={label} schema={schema} path={path} value={value} optional={optional} />
        </FieldRow>
      );
  }
}

/** What a field of several parts is made from. */
export interface Composed {
  label: string;
  about?: string;
  schema: Schema;
  path: JsonPath;
  value: unknown;
  optional: boolean;
}
