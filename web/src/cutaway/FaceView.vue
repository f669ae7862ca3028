<script setup lang="ts">
/** The face as a group, in millimetres; `at` is its middle. */
import { computed } from 'vue'
import type { Dimensions } from './dimensions'
import { face } from './face'
import { titleOf } from './titles'

const props = defineProps<{ dimensions: Dimensions; at: readonly [number, number] }>()
const front = computed(() => face(props.dimensions))
const move = (at: readonly [number, number]) => `translate(${at[0]} ${at[1]})`
</script>

<template>
  <g :transform="move(at)">
    <path
      v-for="(item, index) in front.shapes"
      :key="index"
      :d="item.path"
      fill-rule="evenodd"
      :class="[item.part, { assumed: item.assumed }]"
    >
      <title>{{ titleOf(item) }}</title>
    </path>
  </g>
</template>

<style scoped src="./cutaway.css"></style>
