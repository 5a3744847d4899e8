declare module 'talisman/metrics/jaro.js' {
  export default function jaro(a: string, b: string): number;
}
declare module 'talisman/metrics/jaro-winkler.js' {
  export default function jaroWinkler(a: string, b: string): number;
}
