// The package brings its types, but does not say where.
declare module 'tinykeys' {
  export type KeyBindingPress = [mods: string[], key: string | RegExp];
  export function parseKeybinding(keys: string): KeyBindingPress[];
  export function matchKeyBindingPress(event: KeyboardEvent, press: KeyBindingPress): boolean;
}
