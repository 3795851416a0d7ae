/** Text that is neither markup nor a character that XML forbids. */
export function xml(text: string): string {
  return (
    text
      .replaceAll('&', '&amp;')
      .replaceAll('<', '&lt;')
      .replaceAll('>', '&gt;')
      .replaceAll('"', '&quot;')
      // biome-ignore lint/suspicious/noControlCharactersInRegex: those that XML has no way to write.
      .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|\p{Cs}/gu, '\ufffd')
  );
}
