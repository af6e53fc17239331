declare module 'express4' {
  export { default } from 'express';
}
