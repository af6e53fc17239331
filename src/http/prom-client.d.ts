// The parts of the package that are asked for alone: the whole has ways to push that nobody here
// takes.
declare module 'prom-client/lib/counter.js' {
  import { Counter } from 'prom-client';
  export default Counter;
}
declare module 'prom-client/lib/gauge.js' {
  import { Gauge } from 'prom-client';
  export default Gauge;
}
declare module 'prom-client/lib/histogram.js' {
  import { Histogram } from 'prom-client';
  export default Histogram;
}
declare module 'prom-client/lib/registry.js' {
  import { Registry } from 'prom-client';
  export default Registry;
}
