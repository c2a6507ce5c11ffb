import { RadioGroup } from "radix-ui";
import { nameOf } from "../../../ui/names";
import { LightLine } from "./LightLine";
import { LookPicture, StandIn } from "../../../ui/LookPicture";
import { Tip } from "../../../ui/Tip";

interface Props {
  look: string;
  /** What the pictures show; null while it is too early for them. */
  revision: number | null;
  dialect: string | null;
  forms: string[];
  lights: string[];
  form: string;
  light: string;
  onForm: (form: string) => void;
  onLight: (light: string) => void;
}

/** The look on every form under the light that is chosen, and under every light on the form that is chosen: small pictures to pick by. */
export function ProofStrips({ look, revision, dialect, forms, lights, form, light, onForm, onLight }: Props) {
  const asked = (f: string, l: string) =>
    `&${new URLSearchParams({ form: f, light: l, ...(dialect && { dialect }), revision: String(revision) })}`;
  const isSoon = revision !== null;
  return (
    <div className="flex flex-wrap gap-x-3 gap-y-1 px-2 pb-1">
      <Strip
        word="shape"
        names={forms}
        chosen={form}
        onChange={onForm}
        look={look}
        asked={isSoon ? (name) => asked(name, light) : null}
      />
      <Strip
        word="light"
        names={lights}
        chosen={light}
        onChange={onLight}
        look={look}
        asked={isSoon ? (name) => asked(form, name) : null}
      />
      <LightLine light={light} onBrought={onLight} />
    </div>
  );
}

interface StripProps {
  word: string;
  names: string[];
  chosen: string;
  look: string;
  asked: ((name: string) => string) | null;
  onChange: (name: string) => void;
}

/** Radio buttons with a picture each; arrow keys go along them as along any. */
function Strip({ word, names, chosen, look, asked, onChange }: StripProps) {
  return (
    <div className="min-w-0">
      <p className="text-small text-soft">
        {word} <span className="text-ink">{nameOf(chosen)}</span>
      </p>
      <RadioGroup.Root
        aria-label={word}
        value={chosen}
        onValueChange={onChange}
        data-testid={`proof-${word}`}
        className="flex flex-wrap gap-0.5"
      >
        {names.map((name) => (
          <Tip key={name} words={nameOf(name)}>
            <RadioGroup.Item
              value={name}
              data-value={name}
              aria-label={nameOf(name)}
              className="block border-2 border-transparent aria-checked:border-glaze"
            >
              {asked ? (
                <LookPicture look={look} alt="" size={72} asked={asked(name)} className="size-9 bg-well" />
              ) : (
                <StandIn look={look} className="block size-9 bg-well object-cover" />
              )}
            </RadioGroup.Item>
          </Tip>
        ))}
      </RadioGroup.Root>
    </div>
  );
}
