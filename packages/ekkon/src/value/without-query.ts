/** An address without its query and its fragment. */
export function withoutQuery(url: string): string {
  return url.split(/[?#]/, 1)[0] ?? url;
}
