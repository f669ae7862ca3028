<script setup lang="ts">
/** One combination on the craft: everything of it, in flight, on another battery, on other craft. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { closerQuery } from '@/api/judgeQueries'
import PageState from '@/app/PageState.vue'
import Figure from '@/figures/Figure.vue'
import MotorMark from '@/figures/MotorMark.vue'
import { readTyped } from '@/figures/readNumber'
import NumberField from '@/forms/NumberField.vue'
import { escWords, WINDOW_WORDS } from './words'
import { count } from '@/figures/format'

const props = defineProps<{ craft: number; motors: number; row: Schemas['Matched'] }>()
const emit = defineEmits<{ setUp: [] }>()
const cells = ref('')
const asked = computed(() => {
  const typed = readTyped(cells.value)
  return typed.kind === 'number' && typed.value >= 1 ? Math.round(typed.value) : null
})
const query = useQuery(
  computed(() =>
    closerQuery(props.craft, props.row.motor, props.row.propeller ?? null, asked.value),
  ),
)
watch(
  () => props.craft,
  () => (cells.value = ''),
)
const FIGURES = computed(() => [
  { label: 'All-up mass', figure: props.row.mass_g, unit: 'g' },
  { label: 'Thrust-to-weight, all motors', figure: props.row.thrust_to_weight, unit: '' },
  { label: 'Largest thrust of one motor', figure: props.row.max_thrust_gf, unit: 'gf' },
  { label: 'Hover, each', figure: props.row.hover_thrust_gf, unit: 'gf' },
  { label: 'Hover power, each', figure: props.row.power_w, unit: 'W' },
  { label: 'Peak of the pack', figure: props.row.pack_current_a, unit: 'A' },
  { label: 'Tip speed, of sound', figure: props.row.tip_mach, unit: '' },
  { label: 'Pitch speed at full throttle', figure: props.row.pitch_speed_m_per_s, unit: 'm/s' },
  { label: 'Winding below its ceiling, hover', figure: props.row.margin_hover_k, unit: 'K' },
  { label: 'The same, full throttle for long', figure: props.row.margin_full_k, unit: 'K' },
])
const MORE = computed(() => [
  ...(props.row.pack
    ? [
        { label: 'Pack works at', figure: props.row.pack.c_rate, unit: 'C' },
        {
          label: 'Least pack at its C-rate',
          figure: props.row.pack.least_capacity_mah,
          unit: 'mAh',
        },
      ]
    : []),
  {
    label: 'Inertia of motors and propellers',
    figure: props.row.arm_inertia_kg_mm2,
    unit: 'kg·mm²',
  },
])
</script>

<template>
  <section class="sheet closer" aria-label="Closer look">
    <h2><MotorMark :motor="row.motor" />{{ row.motor_name }}</h2>
    <p class="soft">
      {{ row.propeller_name }};
      {{
        row.predicted
          ? `predicted for ${row.load}`
          : `${row.runs} run${row.runs === 1 ? '' : 's'} of ${row.samples} sample${row.samples === 1 ? '' : 's'} on ${row.load}`
      }}
    </p>
    <dl>
      <template v-for="one in FIGURES" :key="one.label">
        <dt>{{ one.label }}</dt>
        <dd>
          <Figure
            :value="one.figure.value"
            :u="one.figure.u"
            :unit="one.unit"
            :reason="one.figure.reason"
            :assumed="one.figure.assumed"
            :estimated="row.predicted || one.figure.origin === 'estimated'"
          />
        </dd>
      </template>
      <dt>ESC, next size to a fifth to spare</dt>
      <dd class="figure">{{ escWords(row.esc) }}<span class="unit">A</span></dd>
      <template v-for="one in MORE" :key="one.label">
        <dt>{{ one.label }}</dt>
        <dd>
          <Figure
            :value="one.figure.value"
            :u="one.figure.u"
            :unit="one.unit"
            :reason="one.figure.reason"
            :assumed="one.figure.assumed"
            :estimated="row.predicted || one.figure.origin === 'estimated'"
          />
        </dd>
      </template>
    </dl>
    <p v-if="row.barred" class="tag caution">Not to choose: {{ row.barred }}</p>
    <ul v-if="row.cautions.length" class="cautions">
      <li v-for="words in row.cautions" :key="words">{{ words }}</li>
    </ul>
    <p v-if="row.tip_fast" class="small">Its tips are fast: expect noise.</p>
    <p v-if="WINDOW_WORDS[row.window]" class="small">
      kV × V × inches is {{ WINDOW_WORDS[row.window] }}.
    </p>
    <el-button size="small" @click="emit('setUp')">{{
      row.predicted ? 'Run it: set it up at the bench' : 'Run it again'
    }}</el-button>
    <PageState
      :loading="query.isPending.value && row.propeller != null"
      :error="query.error.value"
      :retry="query.refetch"
    />
    <template v-if="query.data.value">
      <h3>In flight and on another battery</h3>
      <p v-for="one in query.data.value.said" :key="one.text" class="said">
        <span class="soft">{{ one.topic }}.</span> {{ one.text }}
      </p>
      <NumberField
        v-model="cells"
        inline
        label="Another battery"
        unit="cells"
        :placeholder="String(query.data.value.other_cells)"
      />
      <h3>Which craft {{ motors }} of it suit</h3>
      <table class="grid">
        <thead>
          <tr>
            <th scope="col">Use</th>
            <th scope="col" class="num">Ratio at least</th>
            <th scope="col" class="num">Craft, all-up, g</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in query.data.value.suits" :key="one.use">
            <td>{{ one.use }}</td>
            <td class="num figure">{{ count(one.least_thrust_to_weight) }}</td>
            <td class="num">
              <Figure :value="one.lightest_g.value" :u="one.lightest_g.u" estimated /> to
              <Figure :value="one.heaviest_g.value" :u="one.heaviest_g.u" />
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="query.data.value.suits[0]" class="small soft">
        Least pack at {{ query.data.value.suits[0].rated_c }} C:
        <Figure
          :value="query.data.value.suits[0].least_capacity_mah.value"
          :u="query.data.value.suits[0].least_capacity_mah.u"
          unit="mAh"
        />. Ratios are this bench's rule of thumb; lighter than 8 % of the thrust leaves no fine
        throttle.
      </p>
    </template>
  </section>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 2px 10px;
  margin: 6px 0 8px;
  font-size: 13px;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
  text-align: right;
}
h2 {
  font-size: 15px;
}
h3 {
  margin: 12px 0 4px;
}
.said {
  font-size: 13px;
  margin: 0 0 5px;
}
.cautions {
  margin: 0 0 8px;
  padding-left: 18px;
  color: var(--caution-ink);
  font-size: 13px;
}
.tag {
  white-space: normal;
}
</style>
