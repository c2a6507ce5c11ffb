import { Link } from "react-router";
import { useSession } from "../api/queries";
import { useBench } from "./BenchContext";
import { KeysDialog } from "./KeysDialog";
import { usePresence } from "./usePresence";

interface Props {
  name: string;
  onDialect: (id: string | null) => void;
  other: string | null;
  onOther: (id: string | null) => void;
  nodes: boolean;
  onNodes: (on: boolean) => void;
  onLowRows: () => void;
}

/** Name, who else is here, what a held key blinks to, the keys; below, the dialect switch and the nodes. */
export function BenchHead({ name, onDialect, other, onOther, nodes, onNodes, onLowRows }: Props) {
  const { id, look, studio, dialect, lowRows } = useBench();
  const session = useSession();
  const others = usePresence(id, session.data?.name);
  return (
    <div className="flex flex-wrap items-center gap-2 border-b border-rule px-3 py-1.5">
      <h1 className="truncate text-large font-medium">{name}</h1>
      {others.length > 0 && (
        <span className="text-small text-soft" role="status" data-testid="presence">
          also here: {others.map((p) => p.displayName).join(", ")}
        </span>
      )}
      <span className="grow" />
      <label className="text-small text-soft">
        blink to{" "}
        <select
          className="entry w-24 text-ink"
          aria-label="blink to"
          value={other ?? ""}
          onChange={(e) => onOther(e.target.value || null)}
        >
          <option value="">Look</option>
          {studio.dialects.map((d) => (
            <option key={d.id} value={d.id}>
              {d.title}
            </option>
          ))}
        </select>
      </label>
      {!nodes && (
        <button
          className="act"
          aria-pressed={lowRows}
          title="Words beside the pictures, so that many lanes are seen at once"
          onClick={onLowRows}
        >
          Low rows
        </button>
      )}
      {!look.variants?.length && (
        <Link className="act" to={`/looks/${id}/variants`}>
          Variants…
        </Link>
      )}
      <KeysDialog />
      <div role="group" aria-label="dialect" className="flex flex-wrap pl-px">
        {[{ id: null, title: "Look", short: "Look" }, ...studio.dialects].map((d) => (
          <button
            key={d.title}
            title={d.title}
            className="act -ml-px rounded-none px-2"
            aria-pressed={dialect === d.id}
            onClick={() => onDialect(d.id)}
          >
            {d.short}
          </button>
        ))}
      </div>
      <button className="act" aria-pressed={nodes} onClick={() => onNodes(!nodes)}>
        Nodes
      </button>
    </div>
  );
}
