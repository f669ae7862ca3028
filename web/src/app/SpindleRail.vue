<script setup lang="ts">
/** The spindle: the stations along a shaft; rings fill with the evidence on the motor in hand. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { boardQuery } from '@/api/queries'
import { ringFill, STATIONS, stationOf } from './stations'
import { useInHand } from './useInHand'

const route = useRoute()
const inHand = useInHand()
const { data: board } = useQuery(computed(() => boardQuery('', inHand.value)))
const motor = computed(() => board.value?.in_hand ?? null)
const here = computed(() => stationOf(route.path))
const CIRCUMFERENCE = 2 * Math.PI * 9

const rings = computed(() =>
  STATIONS.map((station) => {
    const fill = ringFill(station.key, motor.value, board.value?.attribute_count ?? 0)
    return {
      ...station,
      fill,
      title: station.built
        ? fill === null
          ? station.label
          : `${station.label}: ${Math.round(100 * fill)} % of the evidence on ${motor.value?.full_name}`
        : `${station.label}: not built yet`,
    }
  }),
)
</script>

<template>
  <nav class="rail" aria-label="Stations">
    <RouterLink to="/" class="head" :class="{ here: route.path === '/' }">Board</RouterLink>
    <ol>
      <li v-for="ring in rings" :key="ring.key">
        <component
          :is="ring.built ? 'RouterLink' : 'span'"
          :to="ring.built ? ring.path : undefined"
          :title="ring.title"
          class="station"
          :class="{ here: ring.key === here, later: !ring.built }"
        >
          <svg width="26" height="26" viewBox="0 0 26 26" aria-hidden="true">
            <circle cx="13" cy="13" r="9" class="ground" />
            <circle
              v-if="ring.fill"
              cx="13"
              cy="13"
              r="9"
              class="fill"
              transform="rotate(-90 13 13)"
              :stroke-dasharray="`${ring.fill * CIRCUMFERENCE} ${CIRCUMFERENCE}`"
            />
            <circle v-if="ring.key === here" cx="13" cy="13" r="4" class="core" />
          </svg>
          <span>{{ ring.label }}</span>
        </component>
      </li>
    </ol>
    <RouterLink v-if="motor" :to="`/motors/${motor.id}`" class="in-hand" :title="motor.full_name">
      <span class="soft">in hand</span>
      {{ motor.full_name }}
    </RouterLink>
  </nav>
</template>

<style scoped>
.rail {
  grid-area: rail;
  background: var(--ink);
  color: var(--dark-ink);
  display: flex;
  flex-direction: column;
  align-items: center;
  overflow: hidden auto;
  padding: 10px 0;
}
.head {
  color: inherit;
  text-decoration: none;
  font-weight: 700;
  padding: 3px 10px;
  border-radius: 3px;
}
.head.here {
  background: var(--dark-copper);
  color: var(--ink);
}
ol {
  list-style: none;
  margin: 0;
  padding: 8px 0;
  flex: 1;
  display: flex;
  flex-direction: column;
  justify-content: space-evenly;
  position: relative;
  min-height: 470px;
}
ol::before {
  content: '';
  position: absolute;
  left: 50%;
  top: 0;
  bottom: 0;
  width: 3px;
  margin-left: -1.5px;
  background: linear-gradient(90deg, var(--rail-line), var(--rail-shine), var(--rail-line));
}
.station {
  position: relative;
  display: flex;
  flex-direction: column;
  align-items: center;
  width: 84px;
  color: inherit;
  text-decoration: none;
  font-size: 12px;
}
.station span {
  background: var(--ink);
  padding: 0 4px;
}
.station.here span {
  color: var(--dark-copper-light);
  font-weight: 700;
}
.station.later {
  color: var(--rail-soft);
  cursor: default;
}
.station.later svg {
  opacity: 0.6;
}
.ground {
  fill: var(--ink);
  stroke: var(--rail-line);
  stroke-width: 3;
}
.later .ground {
  stroke-dasharray: 3 3;
}
.fill {
  fill: none;
  stroke: var(--dark-copper);
  stroke-width: 3.4;
}
.core {
  fill: var(--dark-copper);
}
a.station:hover span {
  text-decoration: underline;
}
.in-hand {
  width: 100%;
  color: inherit;
  text-decoration: none;
  font-size: 11px;
  line-height: 1.25;
  text-align: center;
  padding: 6px 6px 0;
  border-top: 1px solid var(--dark-line);
  overflow-wrap: anywhere;
  flex: 0 0 auto;
  max-height: 78px;
  overflow: hidden;
}
.in-hand .soft {
  display: block;
  color: var(--dark-soft);
}
</style>
