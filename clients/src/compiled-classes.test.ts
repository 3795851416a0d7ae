import { describe, expect, test } from 'vitest';
import { recording } from '../../packages/ekkon/tests/standing.ts';
import { compilers } from './compilers.ts';

/** Classes with state that nobody can look into: two of them are never taken for the same. */
const hiding: Readonly<Record<string, string>> = {
  'a private field': `class Gauge {
    name = 'north';
    #celsius;
    constructor(celsius) { this.#celsius = celsius; }
    read() { return this.#celsius; }
  }`,
  'a private field with a value': `class Gauge {
    #celsius = 20;
    constructor(celsius) { this.set(celsius); }
    set(celsius) { this.#celsius = celsius; }
    read() { return this.#celsius; }
  }`,
  'a private field in another alphabet': `class Gauge {
    a = 1
    #größe = 3;
    constructor(größe) { this.#größe = größe; }
    read() { return this.#größe; }
  }`,
  'a private field behind accessors': `class Gauge {
    #celsius;
    constructor(celsius) { this.celsius = celsius; }
    set celsius(celsius) { this.#celsius = celsius; }
    get celsius() { return this.#celsius; }
  }`,
  'a private field of a parent': `class Sensor {
    #celsius;
    constructor(celsius) { this.#celsius = celsius; }
    read() { return this.#celsius; }
  }
  class Gauge extends Sensor { name = 'north'; }`,
  'state kept elsewhere': `const kept = new WeakMap();
  class Gauge {
    constructor(celsius) { kept.set(/* the gauge */ this, celsius); }
    read() { return kept.get(this); }
  }`,
  'a private field among private methods': `class Gauge {
    async *#each() {}
    #celsius
    constructor(celsius) { this.#celsius = celsius; }
    #double() { return 2 * this.#celsius; }
    read() { return this.#double(); }
  }`,
  'a private field that is counted up': `class Gauge {
    #celsius = 0;
    constructor(celsius) { while (this.#celsius < celsius) this.#celsius++; }
    read() { return this.#celsius; }
  }`,
  'a parent that is made by a call': `function mix() { return class {}; }
  class Gauge extends mix({ a: { b: 1 } }) {
    #celsius = 1;
    constructor(celsius) { super(); this.#celsius = celsius; }
    read() { return this.#celsius; }
  }`,
  'a parent that is written in place': `class Gauge extends class {} {
    #celsius = 1;
    constructor(celsius) { super(); this.#celsius = celsius; }
    read() { return this.#celsius; }
  }`,
  'a private field after a computed one': `class Gauge {
    turn = () => { return { b: 1 }; }
    ['x' + 1] = 2
    #celsius = 3;
    constructor(celsius) { this.turn = 1; this.#celsius = celsius; }
    read() { return this.#celsius; }
  }`,
};

/** Classes that hide nothing: two that hold the same are the same. */
const open: Readonly<Record<string, string>> = {
  'a private method': `class Gauge {
    constructor(celsius) { this.celsius = celsius; }
    #double() { return 2 * this.celsius; }
    read() { return this.#double(); }
  }`,
  'private accessors': `class Gauge {
    constructor(celsius) { this.celsius = celsius; }
    get #double() { return 2 * this.celsius; }
    set #double(_) {}
    #half() { return this.celsius / 2; }
    read() { this.#double = 3; return this.#double + this.#half(); }
  }`,
  'private statics': `class Gauge {
    static #made = 0;
    static #note() { Gauge.#made++; }
    static made() { return Gauge.#made; }
    constructor(celsius) { this.celsius = celsius; Gauge.#note(); }
  }`,
  'a number sign in texts, templates, comments and patterns': `class Gauge {
    constructor(celsius) {
      this.celsius = celsius;
      this.said = \`#x \${'#y'} \${celsius} #z\`;
    }
    /* #q = 1 */
    isOdd() { return /#x = 1/.test('#y = 2'); } // #x
  }`,
  'private methods of several kinds': `class Gauge {
    constructor(celsius) { this.celsius = celsius; }
    async #later() { return 1; }
    *#each() { yield 1; }
    run() { this.#each(); return this.#later(); }
  }`,
  'this handed on': `function log() {}
  class Gauge {
    constructor(celsius, more) { this.celsius = celsius; Object.assign(this, more); log(this, celsius); }
  }`,
  'a class inside that hides something': `class Gauge {
    constructor(celsius) { this.celsius = celsius; }
    make() { return new (class { #x = 1; y() { return this.#x; } })(); }
  }`,
  'no members': `class Gauge {}`,
};

type Made = new (celsius: number) => object;

function run(code: string): Made {
  const holder = {};
  new Function('holder', code)(holder);
  return (holder as { readonly Gauge: Made }).Gauge;
}

const sources = [...Object.values(hiding), ...Object.values(open)].map((source) => `${source}\nholder.Gauge = Gauge;`);

describe.each(Object.entries(compilers))('classes %s', (_, compile) => {
  const classes = compile(sources).map(run);
  const names = [...Object.keys(hiding), ...Object.keys(open)];

  test.each(names)('%s', (name) => {
    const Gauge = classes[names.indexOf(name)] as Made;
    const gauge = new Gauge(5);
    const recorded = recording(gauge);
    expect(recorded.is(gauge)).toBe('holds');
    if (!(name in open)) {
      expect([recorded.is(new Gauge(6)), recorded.isNot(new Gauge(6))]).toEqual(['undecided', 'undecided']);
      return;
    }
    expect(recorded.is(new Gauge(5))).toBe('holds');
    if (name !== 'no members') expect(recorded.is(new Gauge(6))).toBe('fails');
  });
});
