import { Switch } from "../../../ui/Switch";
import { FieldHead } from "./FieldHead";
import { useForm } from "./FormContext";
import { blank } from "./schema";
import { SchemaField, type Composed } from "./SchemaField";

/** Fields that belong together; what may be left out as a whole has a switch. */
export function ObjectField({ label, about, schema, path, value, optional }: Composed) {
  const { draft, schema: whole } = useForm();
  const isThere = typeof value === "object" && value !== null;
  return (
    <section aria-label={label} className="mb-2">
      <FieldHead label={label} about={about} path={path}>
        {optional && (
          <Switch
            label={label}
            checked={isThere}
            onChange={(on) => (on ? draft.set(path, blank(whole, schema)) : draft.remove(path))}
          />
        )}
      </FieldHead>
      {(isThere || !optional) &&
        Object.entries(schema.properties ?? {}).map(([name, part]) => (
          <SchemaField key={name} name={name} path={[...path, name]} schema={part} around={schema} />
        ))}
    </section>
  );
}
