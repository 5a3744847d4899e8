declare module 'comlink/dist/esm/node-adapter.mjs' {
  import type { Endpoint } from 'comlink';
  export default function nodeEndpoint(
    port: import('node:worker_threads').Worker | import('node:worker_threads').MessagePort,
  ): Endpoint;
}
