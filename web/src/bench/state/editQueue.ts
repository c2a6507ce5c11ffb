import type { Look, LookEdit, LookInfo } from "../../api/types";
import { applyEdit } from "../document/applyEdit";

/** Something that changes the look on the server: an edit, or what only the server can work out (undo, a layer from another look). */
export interface Act {
  /** Null where nothing can be drawn before the answer. */
  edit: LookEdit | null;
  /** Asks the server, with the revision it stands on; gives the look as it then is. */
  send: (revision: number) => Promise<LookInfo>;
  /** Told when the server refuses; the act is already taken back then. */
  refused: (error: unknown) => Promise<void> | void;
}

export interface Drawn {
  /** What the server said last. */
  info: LookInfo;
  /** That, with the edits which are on their way. */
  look: Look;
  /** How many are on their way. */
  waiting: number;
}

/**
 * The edits of one look, one after another, each on the revision that came before. What is edited is drawn at once; what the server
 * refuses is taken back, and the edits after it go on.
 */
export class EditQueue {
  private waiting: Act[] = [];
  private working: Promise<void> = Promise.resolve();
  private readonly told = new Set<() => void>();
  private shown: Drawn;

  constructor(info: LookInfo) {
    this.shown = { info, look: info.document, waiting: 0 };
  }

  readonly drawn = (): Drawn => this.shown;

  readonly subscribe = (tell: () => void) => {
    this.told.add(tell);
    return () => this.told.delete(tell);
  };

  /** What came from elsewhere: another person, another tab, a reload. An older state than the known one is nothing new. */
  receive(info: LookInfo) {
    if (
      info.revision > this.shown.info.revision ||
      (info !== this.shown.info && info.revision === this.shown.info.revision)
    )
      this.draw(info);
  }

  /** Ends when the server has answered, whatever it said. */
  push(act: Act): Promise<void> {
    this.waiting = [...this.waiting, act];
    this.draw(this.shown.info);
    this.working = this.working.then(() => this.next(act));
    return this.working;
  }

  private async next(act: Act) {
    let refusal: { error: unknown } | null = null;
    let info = this.shown.info;
    try {
      info = await act.send(info.revision);
    } catch (error) {
      refusal = { error };
    }
    this.waiting = this.waiting.filter((a) => a !== act);
    this.draw(info.revision >= this.shown.info.revision ? info : this.shown.info);
    if (refusal) await act.refused(refusal.error);
  }

  private draw(info: LookInfo) {
    const look = this.waiting.reduce((so, { edit }) => (edit && applyEdit(so, edit)) ?? so, info.document);
    this.shown = { info, look, waiting: this.waiting.length };
    this.told.forEach((tell) => tell());
  }
}
