import { Component, type ErrorInfo, type ReactNode } from "react";

interface Props {
  /** When it changes, what is below is tried again. */
  at: string;
  children: ReactNode;
}

/** What went wrong while drawing a screen is told, with a way back; the rest of the application goes on. */
export class ErrorBoundary extends Component<Props, { error: Error | null }> {
  override state = { error: null as Error | null };

  static getDerivedStateFromError(error: Error) {
    return { error };
  }

  override componentDidUpdate(before: Props) {
    if (before.at !== this.props.at && this.state.error) {
      this.setState({ error: null });
    }
  }

  override componentDidCatch(error: Error, info: ErrorInfo) {
    console.error(error, info.componentStack);
  }

  override render() {
    if (!this.state.error) {
      return this.props.children;
    }

    return (
      <main role="alert" className="p-8">
        <h1 className="text-xl">This screen cannot be shown</h1>
        <p className="mt-2 text-caution">▲ {this.state.error.message}</p>
        <p className="mt-2 text-pale">Nothing that you did is lost: a run and its log are kept by the server.</p>
        <p className="mt-4 flex gap-4">
          <a className="text-heather underline" href={this.props.at}>
            Try again
          </a>
          <a className="text-heather underline" href="/logbook">
            To the logbook
          </a>
          <a className="text-heather underline" href="/">
            Plan a sortie
          </a>
        </p>
      </main>
    );
  }
}
