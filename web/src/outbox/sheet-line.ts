import type { SheetId } from './device.ts';
import type { SheetKeeper } from './sheet-keeper.ts';

/** How often it is asked what others did. Between tabs of one browser a word goes at once. */
const ASK_MS = 5000;

/** By which the tabs of one browser hear of each other's changes to a sheet. */
export const lineOf = (sheetId: SheetId) => `jotmark-${sheetId}`;

/** Keeps a sheet that is shown in step with what others do: other tabs and the server. Gives how to stop. */
export function openLine(sheetId: SheetId, keeper: SheetKeeper): () => void {
  const others = new BroadcastChannel(lineOf(sheetId));
  others.onmessage = () => keeper.catchUp();
  keeper.catchUp();
  const ask = () => document.visibilityState === 'visible' && keeper.catchUp();
  const clock = setInterval(ask, ASK_MS);
  window.addEventListener('focus', ask);
  return () => {
    others.close();
    clearInterval(clock);
    window.removeEventListener('focus', ask);
  };
}
