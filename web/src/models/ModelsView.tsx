import { Link, NavLink, useParams } from "react-router";
import { useModels } from "../api/queries";
import type { Session } from "../api/types";
import { classes } from "../ui/classes";
import { Empty } from "../ui/Empty";
import { ModelPage } from "./ModelPage";

/** Models at the left; the parts of one, what lies on them, and the whole beside it. */
export function ModelsView({ session }: { session: Session }) {
  const { id } = useParams();
  const models = useModels();
  const all = models.data;
  if (!all) return <p className="p-6 text-soft">{models.error ? models.error.message : "Opening the models…"}</p>;
  const shown = id ?? all[0]?.id;
  if (!shown)
    return (
      <Empty title="No models yet">
        A model comes with a delivery: drop its file together with its maps, or by itself, in{" "}
        <Link className="underline" to="/intake">
          Intake
        </Link>
        . OBJ, glTF, FBX, COLLADA, PLY, STL and 3DS are read.
      </Empty>
    );
  return (
    <div className="grid h-full grid-cols-[180px_minmax(0,1fr)]">
      <aside className="overflow-auto border-r border-rule p-3">
        <h1 className="mb-2 text-large font-medium">Models</h1>
        <ul>
          {all.map((m) => (
            <li key={m.id}>
              <NavLink
                to={`/models/${m.id}`}
                data-shown={m.id === shown}
                data-model={m.name}
                className={classes(
                  "block border-l-3 border-transparent px-2 py-1",
                  "data-[shown=true]:border-glaze data-[shown=true]:bg-raised",
                )}
              >
                <span data-given className="block truncate">
                  {m.name}
                </span>
                <span className="block text-small text-soft">
                  {m.bound} of {m.parts} parts have a look
                  {m.asked > 0 && <span className="font-medium"> · {m.asked} asked</span>}
                </span>
              </NavLink>
            </li>
          ))}
        </ul>
      </aside>
      <ModelPage key={shown} id={shown} mayChange={session.role !== "viewer"} />
    </div>
  );
}
