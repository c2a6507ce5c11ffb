import { Component, type ErrorInfo, type ReactNode } from "react";

interface Props {
  /** What is shown, for the sentence: "The look bench". */
  what: string;
  /** Another value makes a new try: the address of the view. */
  at: string;
  children: ReactNode;
}

interface State {
  error: Error | null;
  at: string;
  where: string;
}

/** A view that fails says so in its own place, with a new try and what to send to whoever can mend it; the rest goes on. */
export class ViewBoundary extends Component<Props, State> {
  state: State = { error: null, at: this.props.at, where: "" };

  static getDerivedStateFromError = (error: Error) => ({ error });

  static getDerivedStateFromProps = (props: Props, state: State) =>
    props.at === state.at ? null : { error: null, at: props.at, where: "" };

  componentDidCatch(_: Error, info: ErrorInfo) {
    this.setState({ where: info.componentStack ?? "" });
  }

  render() {
    const { error, where } = this.state;
    if (!error) return this.props.children;
    const report = [
      `${this.props.what} failed: ${error.message}`,
      `at ${window.location.pathname}, ${new Date().toISOString()}`,
      navigator.userAgent,
      error.stack ?? "",
      where.trim(),
    ].join("\n");
    return (
      <div role="alert" className="m-6 max-w-2xl border border-ink p-4" data-testid="view-failed">
        <h2 className="text-large font-medium">{this.props.what} cannot be shown</h2>
        <p className="mt-1">
          {error.message || "The page met an error of its own."} Nothing you have saved is affected; edits are kept on
          the server.
        </p>
        <p className="mt-3 flex gap-2">
          <button className="act" data-main="true" onClick={() => this.setState({ error: null, where: "" })}>
            Try again
          </button>
          <button className="act" onClick={() => void navigator.clipboard.writeText(report)}>
            Copy the report
          </button>
          <button className="act" onClick={() => window.location.reload()}>
            Reload the page
          </button>
        </p>
        <p className="mt-3 text-small text-soft">If it happens again, send this report to whoever runs the server:</p>
        <pre className="mt-1 max-h-48 overflow-auto bg-sunken p-2 font-mono text-small" tabIndex={0}>
          {report}
        </pre>
      </div>
    );
  }
}
