<script setup lang="ts">
/** "?" shows the keys of the screen. */
import { computed, onMounted, onUnmounted, ref } from 'vue'
import { useRoute } from 'vue-router'

const route = useRoute()
const open = ref(false)

const COMMON: [string, string][] = [
  ['[  ]', 'station before, station after'],
  ['Space or Esc', 'cut the throttle, whatever has the focus, while the tool can cut'],
  ['?', 'show or hide these keys'],
]
const BY_PAGE: Record<string, [string, string][]> = {
  '/bench': [
    ['hold Enter', 'on the arm control: arm'],
    ['Enter', 'on the start control: start the profile'],
    ['r', 'after a run: the same again, from its confirmation on'],
  ],
  '/teardown': [
    ['1 … 9', 'choose the answer of the question in hand'],
    ['Enter', 'keep a number and go on'],
    ['u or 0', 'could not tell (u also in a number field)'],
    ['x', 'not looked at'],
    ['s', 'the same as the reference sample'],
    ['i', 'inferred from it, a sibling'],
    ['<  =  >', 'less, the same, more than it'],
    ['n', 'write a note'],
    ['↑ ↓', 'question before, question after'],
  ],
  '/intake/': [
    ['1 … 6', 'step of the intake'],
    ['Enter', 'keep a line and go to the next'],
  ],
  '/runs': [['Space', 'on a run: take it into the comparison']],
}

const BOARD: [string, string][] = [
  ['b', 'set the next run up at the bench'],
  ['r', 'try the first run again that could not be stored'],
]

const keys = computed(() => {
  const page = Object.keys(BY_PAGE).find((path) => route.path.startsWith(path))
  return [...(route.path === '/' ? BOARD : []), ...(page ? (BY_PAGE[page] ?? []) : []), ...COMMON]
})

function onKey(event: KeyboardEvent) {
  const target = event.target as HTMLElement
  if (event.key === '?' && !target.closest('input, textarea')) open.value = !open.value
  else if (event.key === 'Escape') open.value = false
}
onMounted(() => window.addEventListener('keydown', onKey))
onUnmounted(() => window.removeEventListener('keydown', onKey))
</script>

<template>
  <aside v-if="open" class="keys" aria-label="Keys of this screen">
    <h2>Keys of this screen</h2>
    <dl>
      <template v-for="[key, what] in keys" :key="key">
        <dt>{{ key }}</dt>
        <dd>{{ what }}</dd>
      </template>
    </dl>
  </aside>
</template>

<style scoped>
.keys {
  position: fixed;
  right: 18px;
  bottom: 18px;
  background: var(--ink);
  color: var(--dark-ink);
  border-radius: 5px;
  padding: 14px 18px;
  box-shadow: 0 6px 24px #0006;
  max-width: 420px;
  z-index: 50;
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 4px 14px;
  margin: 8px 0 0;
}
dt {
  font-family: var(--digits);
  color: var(--dark-copper-light);
}
dd {
  margin: 0;
}
</style>
