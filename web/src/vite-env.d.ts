/// <reference types="vite/client" />

/** Where each route is, see `addresses-plugin.ts`. */
declare module 'virtual:addresses' {
  const addresses: Readonly<
    Record<import('@jotmark/core').RouteName, readonly [method: string, path: string]>
  >;
  export default addresses;
}
