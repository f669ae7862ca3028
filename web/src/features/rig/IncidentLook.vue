<script setup lang="ts">
/** What went wrong with an ESC, a pack, a propeller or a stand; struck out, never deleted. */
import { useQuery } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { escsQuery, gearIncidentsQuery, standsQuery, suppliesQuery } from '@/api/rigQueries'
import { useWrite } from '@/api/useWrite'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import { localDay } from '@/figures/format'
import ChoiceField from '@/forms/ChoiceField.vue'
import DayField from '@/forms/DayField.vue'
import PropellerField from '@/forms/PropellerField.vue'
import TextField from '@/forms/TextField.vue'
import { choices } from '@/words/words'

type Gear = 'esc' | 'supply' | 'propeller' | 'stand'
const { data, isPending, error, refetch } = useQuery(gearIncidentsQuery())
const { data: escs } = useQuery(escsQuery())
const { data: supplies } = useQuery(suppliesQuery())
const { data: stands } = useQuery(standsQuery())
const { mayWrite } = useSession()
const EMPTY = { gear: 'esc' as Gear, thing: 0, kind: 'other', destroyed: false, note: '', day: '' }
const draft = useLocalStorage('spindle.gear-incident', { ...EMPTY }, { mergeDefaults: true })
const open = ref(false)
const GEAR: readonly { key: Gear; label: string }[] = [
  { key: 'esc', label: 'ESC' },
  { key: 'supply', label: 'Supply or pack' },
  { key: 'propeller', label: 'Propeller' },
  { key: 'stand', label: 'Stand' },
]
const things = computed(() => {
  const lists = { esc: escs.value, supply: supplies.value, stand: stands.value, propeller: [] }
  return (lists[draft.value.gear] ?? []).map(({ id, name }) => ({ key: id, label: name }))
})
const propeller = computed({
  get: () => draft.value.thing || null,
  set: (id: number | null) => (draft.value.thing = id ?? 0),
})
function choose(gear: Gear | null) {
  draft.value = { ...draft.value, gear: gear ?? 'esc', thing: 0 }
}
const noting = useWrite('gear', async (body: Schemas['GearIncidentRequest']) =>
  dataOf(await api.POST('/api/v1/gear-incidents/', { body })),
)
async function note() {
  const { gear, thing, kind, destroyed, day } = draft.value
  if (!thing) return
  const made = await noting.send({
    [gear]: thing,
    kind: kind as Schemas['GearIncidentRequest']['kind'],
    destroyed,
    note: draft.value.note,
    happened_on: day || localDay(),
  })
  if (!made) return
  draft.value = { ...EMPTY }
  open.value = false
}
const reasons = ref<Record<number, string>>({})
const striking = useWrite('gear', (sent: { row: Schemas['GearIncident']; why: string }) =>
  api.PATCH('/api/v1/gear-incidents/{id}/', {
    params: { path: { id: sent.row.id } },
    body: { struck_reason: sent.why, version: sent.row.version },
  }),
)
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <section v-if="data" class="sheet">
    <h2>Incidents</h2>
    <p v-if="!data.results.length" class="soft">Nothing went wrong with the gear so far.</p>
    <table v-else class="grid">
      <thead>
        <tr>
          <th>What</th>
          <th>Happened</th>
          <th>On</th>
          <th>Note</th>
          <th>By</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in data.results" :key="row.id" :class="{ struck: row.struck_reason }">
          <td>{{ row.thing_name }}</td>
          <td>
            {{ row.kind_words }} <span v-if="row.destroyed" class="tag over">destroyed</span>
            <span v-if="row.struck_reason" class="soft small">struck: {{ row.struck_reason }}</span>
          </td>
          <td class="soft small">{{ row.happened_on }}</td>
          <td class="small">{{ row.note }}</td>
          <td class="small">{{ row.noted_by_name }}</td>
          <td v-if="mayWrite" class="acts">
            <el-button
              v-if="row.struck_reason"
              link
              size="small"
              @click="striking.send({ row, why: '' })"
              >Let it stand</el-button
            >
            <form v-else @submit.prevent="striking.send({ row, why: reasons[row.id] ?? '' })">
              <el-input
                v-model="reasons[row.id]"
                size="small"
                placeholder="why a mistake?"
                :aria-label="`Why ${row.thing_name} is struck`"
              />
              <el-button size="small" native-type="submit" :disabled="!reasons[row.id]?.trim()"
                >Strike</el-button
              >
            </form>
          </td>
        </tr>
      </tbody>
    </table>
    <template v-if="mayWrite">
      <el-button v-if="!open" @click="open = true">Note an incident</el-button>
      <el-form v-else class="line" @submit.prevent="note">
        <ChoiceField
          :model-value="draft.gear"
          label="Gear"
          :choices="GEAR"
          @update:model-value="choose"
        />
        <PropellerField
          v-if="draft.gear === 'propeller'"
          id="incident-thing"
          v-model="propeller"
          label="Which one"
        />
        <ChoiceField
          v-else
          id="incident-thing"
          :model-value="draft.thing || null"
          label="Which one"
          :choices="things"
          :problem="fieldMessage(noting.problem.value, 'thing')"
          @update:model-value="draft.thing = $event ?? 0"
        />
        <ChoiceField
          v-model="draft.kind"
          label="What happened"
          :choices="choices('gear_incident')"
        />
        <DayField
          v-model="draft.day"
          label="On"
          :problem="fieldMessage(noting.problem.value, 'happened_on')"
        />
        <TextField v-model="draft.note" label="Note" width="wide" />
        <el-checkbox v-model="draft.destroyed">destroyed (it is retired)</el-checkbox>
        <el-button
          type="primary"
          native-type="submit"
          :disabled="!draft.thing"
          :loading="noting.busy.value"
          >Note it</el-button
        >
        <el-button @click="open = false">Close</el-button>
      </el-form>
    </template>
    <p v-if="noting.problem.value ?? striking.problem.value" class="problem" role="alert">
      {{ sentenceOf(noting.problem.value ?? striking.problem.value) }}
    </p>
    <p class="small care">
      A swollen, pierced or deeply discharged pack: outside, away from what burns, as its maker and
      local rules have it. Do not charge it again.
    </p>
  </section>
</template>

<style scoped src="./rig.css"></style>
<style scoped>
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: flex-end;
  margin-top: 10px;
}
.acts form {
  display: flex;
  gap: 6px;
}
.acts .el-input {
  width: 150px;
}
.struck td {
  text-decoration: line-through;
  color: var(--ink-soft);
}
.problem {
  color: var(--stop);
}
</style>
