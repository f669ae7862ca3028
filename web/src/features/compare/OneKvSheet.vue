<script setup lang="ts">
/** Identified motors rewound to one kV: what of a difference is winding, and what is design. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { sentenceOf } from '@/api/client'
import { type AskedKv, oneKvQuery } from '@/api/compareQueries'
import { useLast } from '@/api/useLast'
import PageState from '@/app/PageState.vue'
import Figure from '@/figures/Figure.vue'
import MotorMark from '@/figures/MotorMark.vue'
import { readTyped } from '@/figures/readNumber'
import ChoiceField from '@/forms/ChoiceField.vue'
import PropellerField from '@/forms/PropellerField.vue'
import TextField from '@/forms/TextField.vue'
import { labelOf, unitOf } from '@/words/words'
import { count } from '@/figures/format'

const kv = ref('')
const volts = ref('')
const propeller = ref<number | null>(null)
const reference = ref<number | null>(null)
const figure = ref<string | null>('thrust_gf')
const numberIn = (text: string) => {
  const typed = readTyped(text)
  return typed.kind === 'number' ? typed.value : undefined
}
const wrong = (text: string) => {
  const typed = readTyped(text)
  return text.trim() && typed.kind !== 'number' ? 'That is no number.' : ''
}
const asked = computed(
  () =>
    ({
      kv_rpm_per_v: numberIn(kv.value),
      voltage_v: numberIn(volts.value),
      propeller: propeller.value ?? undefined,
      reference: reference.value ?? undefined,
      figure: figure.value ?? undefined,
    }) as AskedKv,
)
const query = useQuery(computed(() => oneKvQuery(asked.value)))
const shown = useLast(query.data)
const of = (figures: { name: string; figure: { value: number | null; u: number | null } }[]) =>
  figures.find((one) => one.name === shown.value?.figure)?.figure
const motors = computed(
  () => shown.value?.rows.map((row) => ({ key: row.motor, label: row.motor_name })) ?? [],
)
</script>

<template>
  <section class="sheet" aria-label="At one kV">
    <h2>At one kV: winding or design?</h2>
    <el-form class="row" label-position="top" @submit.prevent>
      <TextField
        v-model="kv"
        label="kV of all, rpm/V"
        :placeholder="shown?.kv_rpm_per_v ? `${shown.kv_rpm_per_v}` : 'the middle'"
        :problem="wrong(kv)"
      />
      <PropellerField v-model="propeller" label="Propeller, if another is meant" />
      <TextField
        v-model="volts"
        label="Voltage, V"
        :placeholder="shown?.voltage_v ? `${shown.voltage_v}` : 'as most runs'"
        :problem="wrong(volts)"
      />
      <ChoiceField
        v-model="figure"
        label="Told in"
        :choices="(shown?.figures ?? []).map((key) => ({ key, label: labelOf(key) }))"
      />
      <ChoiceField
        :model-value="reference ?? shown?.reference ?? null"
        label="Held against"
        :choices="motors"
        @update:model-value="reference = $event"
      />
    </el-form>
    <PageState :loading="query.isPending.value" :error="query.error.value" :retry="query.refetch" />
    <p v-if="shown?.reason" class="soft">Nothing to split: {{ shown.reason }}.</p>
    <template v-else-if="shown">
      <div class="scroll">
        <table class="grid">
          <thead>
            <tr>
              <th scope="col">Motor</th>
              <th scope="col">kV<br /><span class="soft">rpm/V</span></th>
              <th scope="col">R<br /><span class="soft">Ω</span></th>
              <th scope="col">Km<br /><span class="soft">N·m/√W</span></th>
              <th scope="col">
                {{ labelOf(shown.figure) }} as it is<br /><span class="soft">{{
                  unitOf(shown.figure)
                }}</span>
              </th>
              <th scope="col">
                at {{ count(shown.kv_rpm_per_v ?? 0) }} rpm/V<br /><span class="soft">{{
                  unitOf(shown.figure)
                }}</span>
              </th>
              <th scope="col">Difference<br /><span class="soft">%</span></th>
              <th scope="col">of it winding<br /><span class="soft">%</span></th>
              <th scope="col">of it design<br /><span class="soft">%</span></th>
              <th scope="col">Said</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in shown.rows" :key="row.motor">
              <td>
                <MotorMark :motor="row.motor" />{{ row.motor_name }}
                <span v-if="row.motor === shown.reference" class="tag">held against</span>
              </td>
              <td><Figure :value="row.kv_rpm_per_v.value" :u="row.kv_rpm_per_v.u" /></td>
              <td><Figure :value="row.resistance_ohm.value" :u="row.resistance_ohm.u" /></td>
              <td><Figure :value="row.km_nm_per_sqrt_w.value" :u="row.km_nm_per_sqrt_w.u" /></td>
              <td>
                <Figure :value="of(row.as_it_is)?.value" :u="of(row.as_it_is)?.u" estimated />
              </td>
              <td><Figure :value="of(row.rewound)?.value" :u="of(row.rewound)?.u" estimated /></td>
              <td v-for="name in ['total_pct', 'winding_pct', 'design_pct'] as const" :key="name">
                <Figure :value="row[name].value" :u="row[name].u" :reason="row[name].reason" />
              </td>
              <td>{{ row.said || '—' }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <p class="small soft">
        At full throttle on {{ shown.propeller_name }} at {{ shown.voltage_v }} V, in reference air,
        by each motor's identified model. Rewound: the same stator with other turns, R ∝ 1/kV², idle
        current ∝ kV. All estimated.
      </p>
    </template>
    <p v-if="query.error.value && shown" role="alert">{{ sentenceOf(query.error.value) }}</p>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  margin: 6px 0 8px;
}
.scroll {
  position: relative;
  overflow-x: auto;
}
td,
th {
  text-align: left;
  vertical-align: top;
}
</style>
