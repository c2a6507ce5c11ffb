import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { ChooseMaterials } from "../bring/ChooseMaterials";
import { isNetworkFile, useNetworkFile } from "../bring/useNetworkFile";
import { DeliveryList, megabytes } from "./DeliveryList";
import { FromServer } from "./FromServer";
import { droppedFiles, useUpload } from "./useUpload";
import { ProgressBar } from "../ui/ProgressBar";

/** Drop a delivery, and see those that came before. */
export function IntakeView() {
  const navigate = useNavigate();
  const { state, start: send, cancel } = useUpload((id) => void navigate(`/intake/${id}`));
  const network = useNetworkFile((looks) => void navigate(looks.length === 1 ? `/looks/${looks[0].id}` : "/looks"));
  /** A file of materials alone is taken as what it is; among maps it lies in their delivery. */
  const start = (chosen: { path: string; file: File }[]) =>
    chosen.length === 1 && isNetworkFile(chosen[0].path) ? network.begin(chosen[0].file) : void send(chosen);
  const [over, setOver] = useState(false);
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const picked = (list: FileList | null) =>
    start([...(list ?? [])].map((file) => ({ path: file.webkitRelativePath || file.name, file })));
  return (
    <div className="mx-auto max-w-4xl p-6">
      <h1 className="mb-3 text-title font-medium">Intake</h1>
      <section
        aria-label="Drop a delivery"
        data-over={over}
        className="border-2 border-dashed border-rule bg-raised px-6 py-8 text-center data-[over=true]:border-glaze"
        onDragOver={(e) => {
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(e) => {
          e.preventDefault();
          setOver(false);
          void droppedFiles(e.dataTransfer).then(start);
        }}
      >
        {network.isBusy ? (
          <p role="status">Reading the materials…</p>
        ) : state ? (
          <div role="status">
            <p>
              Sending <b>{state.name}</b>:{" "}
              <span className="font-mono">
                {megabytes(state.sent)} of {megabytes(state.total)}
              </span>
            </p>
            <ProgressBar label="sent" className="mx-auto my-2 w-80" done={state.sent} of={state.total} />
            <p className="font-mono text-small text-soft">{state.file}</p>
            <button className="act mt-2" onClick={cancel}>
              Cancel
            </button>
          </div>
        ) : (
          <>
            <p className="mb-3 text-large">Drop a zip, a folder or loose maps here</p>
            <input
              ref={files}
              type="file"
              multiple
              hidden
              data-testid="files"
              onChange={(e) => picked(e.target.files)}
            />
            <input
              ref={folder}
              type="file"
              hidden
              onChange={(e) => picked(e.target.files)}
              {...{ webkitdirectory: "" }}
            />
            <button className="act" data-main="true" onClick={() => files.current?.click()}>
              Choose files
            </button>{" "}
            <button className="act" onClick={() => folder.current?.click()}>
              Choose a folder
            </button>{" "}
            <FromServer onTaken={(id) => void navigate(`/intake/${id}`)} />
            <p className="mt-3 text-small text-soft">
              PNG, JPEG, TGA, TIFF, OpenEXR, Radiance HDR, DDS and WebP; or a single glTF, MaterialX or USD file for its
              materials.
            </p>
          </>
        )}
      </section>
      <DeliveryList />
      {network.choice && <ChooseMaterials choice={network.choice} onTake={network.take} onLeave={network.leave} />}
    </div>
  );
}
