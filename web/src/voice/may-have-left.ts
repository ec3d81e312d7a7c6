/** Whether this browser may hold recordings that a tab has left: so that nobody opens a database to find it empty. */
const LEFT = 'jotmark.takes';

export const rememberLeft = (): void => keep('yes');
export const forgetLeft = (): void => keep(null);

function keep(value: string | null): void {
  try {
    if (value) localStorage.setItem(LEFT, value);
    else localStorage.removeItem(LEFT);
  } catch {
    // Then a recording that is cut off waits for the next one that is made.
  }
}

export function mayHaveLeft(): boolean {
  try {
    return localStorage.getItem(LEFT) !== null;
  } catch {
    return false;
  }
}
