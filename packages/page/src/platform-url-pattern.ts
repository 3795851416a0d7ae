/** Stands for the polyfill on a page: current browsers have the class, and others say that they have not. */
export class URLPattern {
  constructor() {
    throw new TypeError('this browser has no URLPattern');
  }
}
