<script setup lang="ts">
/** A column's head that orders by it: once the largest first, twice the smallest, thrice not. */
import { computed } from 'vue'

const props = defineProps<{ name: string; label: string; ordered?: boolean }>()
const order = defineModel<string>({ required: true })
const state = computed(() =>
  order.value === `-${props.name}` ? 'down' : order.value === props.name ? 'up' : '',
)
const SIGNS = { down: '↓', up: '↑', '': '' }
const SAID = { down: 'largest first', up: 'smallest first', '': 'not ordered by this' }

function press() {
  order.value = { '': `-${props.name}`, down: props.name, up: '' }[state.value]
}
</script>

<template>
  <button v-if="ordered" type="button" class="sort" @click="press">
    {{ label }}<span aria-hidden="true">{{ SIGNS[state] }}</span
    ><span class="visually-hidden">, {{ SAID[state] }}</span>
  </button>
  <template v-else>{{ label }}</template>
</template>

<style scoped>
.sort {
  border: 0;
  min-width: 24px;
  min-height: 26px;
  padding: 2px 0;
  background: none;
  font-weight: inherit;
  text-align: inherit;
  cursor: pointer;
  text-decoration: underline dotted var(--ink-soft);
  text-underline-offset: 3px;
}
.sort:hover {
  color: var(--copper);
}
</style>
