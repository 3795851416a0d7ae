import type { Page } from 'playwright-core';

export declare const browserPath: string | undefined;
export declare function withPage<T>(
  size: { readonly width: number; readonly height: number },
  use: (page: Page) => Promise<T>,
): Promise<T>;
export function hasBrowserFor(what: string): boolean;
