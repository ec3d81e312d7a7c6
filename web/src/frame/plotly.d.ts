/** The parts of Plotly that are used here; the package brings no types. */
declare module 'plotly.js-basic-dist-min' {
  export function react(
    root: HTMLElement,
    data: readonly object[],
    layout: object,
    config?: object,
  ): Promise<
    HTMLElement & {
      on(
        event: 'plotly_click',
        heard: (e: { points: readonly { pointNumber: number; curveNumber: number }[] }) => void,
      ): void;
      removeAllListeners(event: string): void;
    }
  >;
  export function purge(root: HTMLElement): void;
}
