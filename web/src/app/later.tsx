import { type ComponentType, lazy, useState } from 'react';

/** Since when, in milliseconds, the page was loaded anew because a part of it was gone. */
const RELOADED = 'jotmark.loaded-anew';
/** Loaded anew so short a time ago, a part that is gone is no new version. */
const ONCE_MS = 20_000;

/** A part of the app could not be loaded, though the page was loaded anew. */
export class PartMissing extends Error {}

/** Whether this page was just loaded anew for a new version; told once. */
export function wasLoadedAnew(): boolean {
  try {
    const at = Number(sessionStorage.getItem(RELOADED));
    if (!at || sessionStorage.getItem(`${RELOADED}.told`) === String(at)) return false;
    sessionStorage.setItem(`${RELOADED}.told`, String(at));
    return true;
  } catch {
    return false;
  }
}

function loadAnewOnce(): boolean {
  try {
    if (Date.now() - Number(sessionStorage.getItem(RELOADED)) < ONCE_MS) return false;
    sessionStorage.setItem(RELOADED, String(Date.now()));
  } catch {
    // Nothing can be remembered: better told than reloaded for ever.
    return false;
  }
  location.reload();
  return true;
}

/**
 * A view that is loaded when it is wanted. A part that is gone means that a new version was put up meanwhile: the page is loaded anew, once.
 * `ready` loads it before it is wanted.
 */
export function later(load: () => Promise<ComponentType>): ComponentType & { ready(): void } {
  let loaded: ComponentType | null = null;
  let loading: Promise<ComponentType> | null = null;
  const fetch = () => {
    loading ??= load().then(
      (view) => {
        loaded = view;
        return view;
      },
      (error) => {
        loading = null;
        throw error;
      },
    );
    return loading;
  };
  const Wanted = lazy(async () => {
    try {
      return { default: await fetch() };
    } catch (error) {
      // The page is on its way out: nothing more is shown.
      if (navigator.onLine && loadAnewOnce()) return new Promise<never>(() => {});
      throw new PartMissing(String(error));
    }
  });
  function Later() {
    // What is loaded already is shown at once, without a frame of waiting.
    const [View] = useState<ComponentType>(() => loaded ?? Wanted);
    return <View />;
  }
  return Object.assign(Later, { ready: () => void fetch().catch(() => {}) });
}
