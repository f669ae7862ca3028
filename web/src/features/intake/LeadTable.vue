<script setup lang="ts">
/** What a metre of lead weighs on this bench, by gauge and insulation; off-cuts calibrate it. */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { leadWiresQuery } from '@/api/rigQueries'
import { useWrite } from '@/api/useWrite'
import { offerUndo } from '@/app/offerUndo'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import Figure from '@/figures/Figure.vue'
import { numberFault, numberOrNull } from '@/figures/readNumber'
import ChoiceField from '@/forms/ChoiceField.vue'
import NumberField from '@/forms/NumberField.vue'
import { choices, wordOf } from '@/words/words'

type Kind = Schemas['LeadKind']
const { mayWrite } = useSession()
const open = ref(false)
const query = useQuery(computed(() => ({ ...leadWiresQuery(), enabled: open.value })))
const typed = reactive({ gauge: '', insulation: 'silicone', g_per_m: '', u_g_per_m: '' })
const faults = reactive<Record<string, string>>({})
const rowOf = (gauge: number | null, insulation: string) =>
  query.data.value?.find((one) => one.gauge === gauge && one.insulation === insulation)?.row ?? null
const keeping = useWrite('lead', async (body: Schemas['LeadWireRequest']) => {
  const row = rowOf(body.gauge, body.insulation)
  if (!row) return dataOf(await api.POST('/api/v1/lead-wires/', { body }))
  return dataOf(
    await api.PATCH('/api/v1/lead-wires/{id}/', {
      params: { path: { id: row.id } },
      body: { note: '', ...body, version: row.version },
    }),
  )
})
const removing = useWrite('lead', (row: Schemas['LeadWire']) =>
  api.DELETE('/api/v1/lead-wires/{id}/', {
    params: { path: { id: row.id }, query: { version: row.version } },
  }),
)
const NUMBERS = ['gauge', 'g_per_m', 'u_g_per_m'] as const
async function keep() {
  for (const name of NUMBERS) faults[name] = numberFault(typed[name])
  if (!faults.gauge && !Number.isInteger(numberOrNull(typed.gauge)))
    faults.gauge = 'A gauge is a whole number, such as 20.'
  if (!faults.g_per_m && !typed.g_per_m.trim()) faults.g_per_m = 'Its mass per metre, in g.'
  if (NUMBERS.some((name) => faults[name])) return
  const done = await keeping.send({
    gauge: numberOrNull(typed.gauge) ?? 0,
    insulation: typed.insulation as Schemas['InsulationEnum'],
    g_per_m: numberOrNull(typed.g_per_m) ?? 0,
    u_g_per_m: numberOrNull(typed.u_g_per_m),
  })
  if (done) Object.assign(typed, { gauge: '', g_per_m: '', u_g_per_m: '' })
}
const brief = (value: number) => Number(value.toPrecision(3))
const take = (kind: Kind) =>
  kind.offcuts &&
  keeping.send({
    gauge: kind.gauge,
    insulation: kind.insulation,
    g_per_m: brief(kind.offcuts.g_per_m),
    u_g_per_m: brief(kind.offcuts.u_g_per_m),
    note: `from ${kind.offcuts.n} own off-cuts`,
  })
async function remove(kind: Kind) {
  const row = kind.row
  if (!row || !(await removing.send(row))) return
  const { gauge, insulation, g_per_m, u_g_per_m, note } = row
  offerUndo(`AWG ${gauge}`, () =>
    keeping.sendOrThrow({ gauge, insulation, g_per_m, u_g_per_m, note }),
  )
}
const said = (name: string) => faults[name] || fieldMessage(keeping.problem.value, name)
const problem = computed(() => {
  const error = keeping.problem.value
  const beside = error && [...NUMBERS, 'insulation'].some((name) => fieldMessage(error, name))
  return removing.problem.value ?? (beside ? null : error)
})
</script>

<template>
  <details :open="open" @toggle="open = ($event.target as HTMLDetailsElement).open">
    <summary>What a metre of lead weighs on this bench</summary>
    <template v-if="open">
      <PageState
        :loading="query.isPending.value"
        :error="query.error.value"
        :retry="query.refetch"
      />
      <div v-if="query.data.value" class="scroll" tabindex="-1">
        <table class="grid">
          <thead>
            <tr>
              <th>Lead</th>
              <th class="num">This bench</th>
              <th class="num">Own off-cuts</th>
              <th class="num">Usual</th>
              <th><span class="visually-hidden">Take off</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="kind in query.data.value" :key="`${kind.gauge} ${kind.insulation}`">
              <td>
                AWG {{ kind.gauge }}, {{ wordOf('insulation', kind.insulation)
                }}<span v-if="kind.row?.note" class="soft small note">{{ kind.row.note }}</span>
              </td>
              <td class="num">
                <Figure
                  :value="kind.row?.g_per_m"
                  :u="kind.row?.u_g_per_m"
                  unit="g/m"
                  :estimated="kind.row?.u_g_per_m === null"
                  reason="nobody noted it: the usual mass is taken, where there is one"
                />
              </td>
              <td class="num">
                <template v-if="kind.offcuts">
                  <Figure :value="kind.offcuts.g_per_m" :u="kind.offcuts.u_g_per_m" unit="g/m" />
                  <span class="soft small count">n = {{ kind.offcuts.n }}</span>
                  <el-button v-if="mayWrite" link size="small" @click="take(kind)"
                    >Take<span class="visually-hidden">
                      that of AWG {{ kind.gauge }} into the table</span
                    ></el-button
                  >
                </template>
                <Figure v-else :value="null" reason="no off-cut of this kind was weighed" />
              </td>
              <td class="num">
                <Figure
                  :value="kind.usual.value"
                  :u="kind.usual.u"
                  unit="g/m"
                  estimated
                  :reason="kind.usual.reason"
                />
              </td>
              <td>
                <el-button v-if="mayWrite && kind.row" link size="small" @click="remove(kind)"
                  >Take off<span class="visually-hidden"> AWG {{ kind.gauge }}</span></el-button
                >
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <el-form v-if="mayWrite && query.data.value" class="line" @submit.prevent="keep">
        <NumberField v-model="typed.gauge" label="Gauge" unit="AWG" :problem="said('gauge')" />
        <ChoiceField
          v-model="typed.insulation"
          label="Insulation"
          :choices="choices('insulation')"
          :problem="said('insulation')"
        />
        <NumberField
          v-model="typed.g_per_m"
          label="One lead"
          unit="g/m"
          :problem="said('g_per_m')"
        />
        <NumberField
          v-model="typed.u_g_per_m"
          label="u of it"
          unit="g/m"
          placeholder="unknown"
          :problem="said('u_g_per_m')"
        />
        <el-button native-type="submit" :loading="keeping.busy.value">Note it</el-button>
      </el-form>
      <p v-if="problem" class="field-problem" role="alert">{{ sentenceOf(problem) }}</p>
      <p class="soft small">
        Without a u it is taken to be off by 12 % either way, as a gauge is. What changes here
        changes the masses that rest on it, at once.
      </p>
    </template>
  </details>
</template>

<style scoped src="./intake.css"></style>
<style scoped>
.scroll {
  overflow-x: auto;
}
.note {
  display: block;
}
.count {
  margin: 0 6px;
}
summary {
  cursor: pointer;
  padding: 6px 0;
}
</style>
