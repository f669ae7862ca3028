<script setup lang="ts">
/** The half-section as a group, in millimetres; `at` is where its axis meets the bell top. */
import { computed } from 'vue'
import type { Dimensions } from './dimensions'
import { section } from './section'
import { titleOf } from './titles'

const props = defineProps<{ dimensions: Dimensions; at: readonly [number, number] }>()
const cut = computed(() => section(props.dimensions))
const move = (at: readonly [number, number]) => `translate(${at[0]} ${at[1]})`
</script>

<template>
  <g :transform="move(at)">
    <path
      v-for="(item, index) in cut.shapes"
      :key="index"
      :d="item.path"
      :class="[item.part, { assumed: item.assumed }]"
    >
      <title>{{ titleOf(item) }}</title>
    </path>
    <line
      v-for="y in cut.laminations.y"
      :key="y"
      class="lamination"
      :x1="cut.laminations.from"
      :x2="cut.laminations.to"
      :y1="y"
      :y2="y"
    />
    <line class="axis" x1="0" x2="0" :y1="cut.box.y - 0.6" :y2="cut.box.y + cut.box.height + 0.6" />
  </g>
</template>

<style scoped src="./cutaway.css"></style>
