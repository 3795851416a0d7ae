/**
 * Reads how dark the sky is, as the server sends it: server-sent events, magnitudes per square arcsecond.
 *
 * @param hear is told each value
 * @param signal ends it
 */
export async function followSky(
  hear: (darkness: number) => void,
  signal: AbortSignal,
): Promise<void> {
  const answer = await fetch('/api/sky', { headers: { accept: 'text/event-stream' }, signal });
  if (answer.body === null) return;
  const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    const events = (rest + value).split('\n\n');
    rest = events.pop() ?? '';
    for (const event of events) {
      const data = /^data: (.+)$/m.exec(event)?.[1];
      if (data !== undefined) hear(Number(data));
    }
  }
}
