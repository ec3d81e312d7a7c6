import { Component, type ReactNode } from 'react';
import { PartMissing } from './later.tsx';

/** What is shown where a view could not be loaded or fell over: never an empty page. */
export class Fallen extends Component<{ children: ReactNode }, { error: unknown }> {
  override state = { error: null as unknown };

  static getDerivedStateFromError(error: unknown) {
    return { error };
  }

  override render() {
    const { error } = this.state;
    if (error === null) return this.props.children;
    return (
      <main className="mx-auto max-w-lg p-8" role="alert">
        <h1 className="text-xl font-bold">
          {error instanceof PartMissing ? 'This part of Jotmark could not be loaded' : 'This page fell over'}
        </h1>
        <p className="mt-2 text-soft">
          {error instanceof PartMissing
            ? 'There may be no connection just now, or a new version is being put up. Load the page again.'
            : 'That is a fault of ours. Load the page again; if it stays, tell whoever looks after Jotmark at your school.'}
        </p>
        <button type="button" className="act mt-4" onClick={() => location.reload()}>
          Load again
        </button>
      </main>
    );
  }
}
