// @vitest-environment jsdom
import { expect, test } from 'vitest';
import { createApp, defineComponent, getCurrentInstance, h, markRaw, nextTick, ref } from 'vue';
import { recording } from '../../packages/ekkon/tests/standing.ts';

test('what a component passes is recorded without a warning, and without the inside of the framework', async () => {
  const warned: unknown[] = [];
  const { warn } = console;
  console.warn = (...said: unknown[]) => warned.push(said);
  const passed: Record<string, object> = {};
  const Panel = defineComponent({
    props: { seconds: Number },
    setup(props) {
      Object.assign(passed, { props, instance: getCurrentInstance(), reference: ref(5) });
      return () => h('p', { id: 'panel' }, String(props.seconds));
    },
    mounted() {
      Object.assign(passed, { itself: this, element: this.$el, node: this.$.subTree });
    },
  });
  const app = createApp(Panel, { seconds: 30 });
  app.mount(document.createElement('main'));
  await nextTick();
  Object.assign(passed, { app });

  const parts = ['itself', 'instance', 'app'];
  for (const [name, value] of Object.entries(passed)) {
    const recorded = recording(value);
    expect([name, recorded.is(value), recorded.is(5)]).toEqual([name, 'holds', 'fails']);
    if (parts.includes(name)) expect(recorded.firstLine(5)).toMatch(/expected 5, received ‹part of a framework›$/);
  }
  const node = recording(passed['node']);
  expect([node.is(h('p', { id: 'panel' }, '30')), node.is(h('p', { id: 'panel' }, '31')), node.has({ props: { id: 'panel' } })]).toEqual([
    'holds',
    'fails',
    'holds',
  ]);
  expect(node.firstLine(5)).toContain('received { __v_isVNode: true, type: "p", key: nu…');
  const reference = recording(passed['reference']);
  expect([reference.is(ref(5)), reference.is(ref(6))]).toEqual(['holds', 'fails']);
  expect(recording(markRaw({ seconds: 30 })).is({ seconds: 31 })).toBe('fails');
  expect(recording(markRaw({ seconds: 30 })).is({ seconds: 30 })).toBe('holds');
  console.warn = warn;
  expect(warned).toEqual([]);
});
