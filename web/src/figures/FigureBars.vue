<script setup lang="ts">
/** One figure of many motors as sorted bars with ±2u; what is claimed stands beside as a mark. */
import { computed, ref } from 'vue'
import TableStill from '@/charts/TableStill.vue'
import { type BarRow, barsOf } from './bars'
import Figure from './Figure.vue'
import { figureText, plainFigure } from './format'
import MotorMark from './MotorMark.vue'
import { motorMark } from './motorMark'

const props = defineProps<{ rows: BarRow[]; unit: string; title: string }>()
const smallestFirst = ref(false)
const bars = computed(() => barsOf(props.rows, smallestFirst.value))
const claimed = computed(() => props.rows.some((row) => row.claims.length))
const still = () => ({
  title: props.title,
  heads: ['', props.unit, ...(claimed.value ? ['claimed'] : [])],
  rows: bars.value.map((bar) => {
    return [
      bar.name,
      plainFigure(bar),
      ...(claimed.value ? [bar.claims.map((one) => `${one.value}`).join(', ')] : []),
    ]
  }),
  foot: '± is the standard uncertainty.',
})
</script>

<template>
  <div class="bars" role="list" :aria-label="title">
    <div v-for="bar in bars" :key="bar.key" class="bar-row" role="listitem">
      <span class="name"><MotorMark :motor="bar.motor" />{{ bar.name }}</span>
      <span class="room" aria-hidden="true">
        <span
          class="bar"
          :style="{
            left: `${bar.from}%`,
            width: `${bar.to - bar.from}%`,
            background: motorMark(bar.motor).color,
          }"
        />
        <span
          v-if="bar.u"
          class="whisker"
          :style="{ left: `${bar.low}%`, width: `${bar.high - bar.low}%` }"
        />
        <span
          v-for="mark in bar.marks"
          :key="mark.source"
          class="claim"
          :style="{ left: `${mark.at}%` }"
        />
      </span>
      <span class="value"><Figure :value="bar.value" :u="bar.u" :unit="unit" /></span>
      <span v-if="claimed" class="soft small claims">
        <template v-for="one in bar.claims" :key="one.source"
          >{{ one.source }}: {{ figureText(one.value).value }}</template
        >
      </span>
    </div>
  </div>
  <p class="small soft foot">
    Whiskers are ±2u.<template v-if="claimed"> Diamonds are claims, quoted.</template>
    <el-button size="small" text @click="smallestFirst = !smallestFirst">{{
      smallestFirst ? 'the largest first' : 'the smallest first'
    }}</el-button>
    <TableStill name="bars" :table="still" />
  </p>
</template>

<style scoped>
.bar-row {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 26px;
}
.name {
  flex: 0 1 330px;
  min-width: 150px;
  font-size: 13px;
}
.room {
  position: relative;
  flex: 1 1 200px;
  height: 18px;
}
.bar {
  position: absolute;
  top: 3px;
  bottom: 3px;
  opacity: 0.75;
}
.whisker {
  position: absolute;
  top: 8px;
  height: 2px;
  background: var(--ink);
}
.claim {
  position: absolute;
  top: 4px;
  width: 9px;
  height: 9px;
  margin-left: -5px;
  rotate: 45deg;
  border: 1.5px solid var(--ink);
  background: var(--sheet);
}
.value {
  flex: 0 0 132px;
  text-align: right;
}
.claims {
  flex: 0 0 150px;
}
.foot {
  margin: 6px 0 0;
}
</style>
