<script setup lang="ts">
/** How warm each motor got; compared only where they began alike. */
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'

defineProps<{ warmth: Schemas['Warmth'] }>()
const stated = (figure: Schemas['StatedFigure'] | undefined) => ({
  value: figure?.value,
  u: figure?.u,
  assumed: figure?.assumed,
  reason: figure?.reason || 'not read',
})
</script>

<template>
  <section class="sheet warmth" aria-labelledby="warmth">
    <h2 id="warmth">How warm they got</h2>
    <p v-if="warmth.refused" class="warn">
      Final temperatures are not compared. {{ warmth.refused }}
    </p>
    <p v-else-if="warmth.unknown.length" class="soft small">
      Taken to be alike, since nobody noted it: {{ warmth.unknown.join(', ') }}.
    </p>
    <div class="scroll">
      <table class="grid">
        <thead>
          <tr>
            <th>Run</th>
            <th class="num">Before</th>
            <th class="num">After</th>
            <th class="num">Rise</th>
            <th v-if="!warmth.refused" class="num">Against the first</th>
            <th class="num">Air</th>
            <th class="num">Loaded for</th>
            <th class="num">Runs before, not cooled</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(one, at) in warmth.runs" :key="one.run">
            <td>
              <slot name="run" :run="one.run">
                <RouterLink :to="`/runs/${one.run}`">Run {{ one.run }}</RouterLink>
              </slot>
            </td>
            <td class="num"><Figure v-bind="stated(one.before)" unit="°C" /></td>
            <td class="num"><Figure v-bind="stated(one.after)" unit="°C" /></td>
            <td class="num"><Figure v-bind="stated(one.rise)" unit="K" /></td>
            <td v-if="!warmth.refused" class="num">
              <Figure v-if="at" signed v-bind="stated(warmth.against[at])" unit="K" />
            </td>
            <td class="num"><Figure :value="one.air_c" unit="°C" reason="not noted" /></td>
            <td class="num">
              <Figure
                v-if="one.span_s !== null"
                :value="Math.round(one.span_s)"
                unit="s"
              /><template v-else
                >{{ one.readings }} {{ one.readings === 1 ? 'reading' : 'readings' }}</template
              >
            </td>
            <td class="num">{{ one.runs_before }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="warmth.more" class="soft small">{{ warmth.more }} more runs are not shown.</p>
  </section>
</template>

<style scoped>
.scroll {
  position: relative;
  overflow-x: auto;
}
.warn {
  background: var(--caution-soft);
  border-left: 4px solid var(--caution);
  padding: 5px 10px;
  margin: 6px 0;
}
</style>
