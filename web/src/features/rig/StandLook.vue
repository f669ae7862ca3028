<script setup lang="ts">
/** Can I trust the stand today? All of them, and everything of the one that is looked at. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, dataOf, type Schemas } from '@/api/client'
import { standsQuery } from '@/api/rigQueries'
import { useRouteQuery } from '@/app/useRouteQuery'
import { useWrite } from '@/api/useWrite'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import Figure from '@/figures/Figure.vue'
import { localDay } from '@/figures/format'
import { wordOf } from '@/words/words'
import DriveForm from './DriveForm.vue'
import { bodyOf, STAND, type Typed } from './facts'
import StandSheet from './StandSheet.vue'

type Stand = Schemas['Stand']
const { data, isPending, error, refetch } = useQuery(standsQuery())
const { mayWrite } = useSession()
const adding = ref(false)
const asked = useRouteQuery('stand', '')
const ordered = computed(() =>
  [...(data.value ?? [])].sort(
    (a, b) => Number(a.retired) - Number(b.retired) || Number(b.live) - Number(a.live),
  ),
)
const chosen = computed(
  () => ordered.value.find((row) => String(row.id) === asked.value) ?? ordered.value[0] ?? null,
)
/** A u needs no more than two digits. */
const brief = (value: number) => Number(value.toPrecision(2))
const choose = (row: Stand) => (asked.value = String(row.id))
const writing = useWrite('stand', async (body: Schemas['NewStandRequest']) =>
  dataOf(await api.POST('/api/v1/stands/', { body })),
)
async function add(typed: Typed) {
  const made = await writing.sendOrThrow(bodyOf(STAND, typed) as Schemas['NewStandRequest'])
  choose(made)
  return made.version ?? 1
}
const from = (row: Stand) => {
  if (row.calibrated_on) return `calibrated ${row.calibrated_on}`
  return row.thrust_u_rel === null ? `assumed: ${row.assumed_words}` : 'as declared'
}
const overdue = (row: Stand) => Boolean(row.remind_on && String(row.remind_on) <= localDay())
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <section v-if="data" class="sheet">
    <p v-if="!data.length" class="soft">
      No stand yet. A kitchen scale under an arm is one: a name and a kind are enough.
    </p>
    <table v-else class="grid">
      <thead>
        <tr>
          <th>Stand</th>
          <th>Kind</th>
          <th class="num">u of its thrust</th>
          <th>from</th>
          <th class="num">One run to the next</th>
          <th>Last check mass</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="row in ordered"
          :key="row.id"
          :class="{ chosen: row.id === chosen?.id, retired: row.retired }"
        >
          <td>
            <el-button link :aria-pressed="row.id === chosen?.id" @click="choose(row)">{{
              row.name
            }}</el-button>
            <span v-if="row.live" class="tag within">live</span>
            <span v-if="row.retired" class="tag">retired</span>
          </td>
          <td>{{ wordOf('stand_kind', row.kind) }}</td>
          <td class="num">
            <Figure
              :value="row.thrust_u_rel === null ? null : brief(100 * row.thrust_u_rel)"
              unit="%"
              reason="nobody declared or calibrated it"
            />
          </td>
          <td class="small soft">
            {{ from(row) }} <span v-if="overdue(row)" class="tag caution">due again</span>
          </td>
          <td class="num">
            <Figure
              :value="row.repeatability_rel == null ? null : 100 * row.repeatability_rel"
              unit="%"
              reason="not known: 2 % are assumed until repeats show it"
            />
          </td>
          <td class="small">
            <template v-if="row.last_check">
              <span class="tag" :class="row.last_check.moved ? 'caution' : 'within'">{{
                row.last_check.moved ? 'has moved' : 'holds'
              }}</span>
              <span class="soft"> {{ row.last_check.checked_at?.slice(0, 10) }}</span>
            </template>
            <span v-else class="soft">never checked</span>
          </td>
        </tr>
      </tbody>
    </table>
    <el-button v-if="mayWrite" class="more" :aria-expanded="adding" @click="adding = !adding"
      >Another stand</el-button
    >
    <DriveForm v-if="adding" what="stand" :fields="STAND" :write="add" @done="adding = false" />
  </section>
  <StandSheet v-if="chosen" :key="chosen.id" :stand="chosen.id" />
</template>

<style scoped src="./rig.css"></style>
<style scoped>
.chosen {
  background: var(--copper-soft);
}
.retired {
  color: var(--ink-soft);
}
.more {
  margin-top: 10px;
}
</style>
