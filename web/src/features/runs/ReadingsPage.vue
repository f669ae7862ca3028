<script setup lang="ts">
/** Numbers read off a scale, a watt meter, a tachometer: an evening's sheet that becomes runs. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { fieldMessage, sentenceOf } from '@/api/client'
import { suppliesQuery } from '@/api/rigQueries'
import { offerUndo } from '@/app/offerUndo'
import BenchTabs from '@/features/bench/BenchTabs.vue'
import BenchDay from '@/features/rig/BenchDay.vue'
import { localDay } from '@/figures/format'
import ChoiceField from '@/forms/ChoiceField.vue'
import DayField from '@/forms/DayField.vue'
import ReadingsBlock from './ReadingsBlock.vue'
import ReadingsColumns from './ReadingsColumns.vue'
import { useSheetDraft } from './useSheetDraft'

const route = useRoute()
const router = useRouter()
const sheet = useSheetDraft(Number(route.query.sample) || null)
const { draft, look, problem, busy, missing } = sheet
const { data: supplies } = useQuery(suppliesQuery())
const inUse = (rows: readonly { id: number; name: string; retired?: boolean }[] | undefined) => [
  { key: 0, label: 'not noted' },
  ...(rows ?? []).filter((row) => !row.retired).map((row) => ({ key: row.id, label: row.name })),
]
const packs = computed(() =>
  (supplies.value ?? []).filter((row) => row.kind === 'pack').map((row) => row.id),
)
const count = computed(() => draft.value.blocks.length)
async function keep() {
  const made = await sheet.keep()
  const [first] = made ?? []
  if (!first) return
  await router.push(made?.length === 1 ? `/runs/${first.id}` : '/runs?state=waiting')
}
function drop(at: number) {
  const before = draft.value
  sheet.drop(at)
  offerUndo(`Block ${at + 1}`, () => {
    draft.value = before
    return Promise.resolve(true)
  })
}
</script>

<template>
  <h1>Readings</h1>
  <BenchTabs />
  <p class="caution">
    Read with the prop in its guard and nobody in its plane; throttle back before you write. The
    maker's instructions come first.
  </p>
  <el-form class="sheet" @submit.prevent="keep">
    <div class="of">
      <DayField
        v-model="draft.day"
        label="Day"
        width="usual"
        :problem="fieldMessage(problem, 'day')"
      />
      <ChoiceField v-model="draft.stand" label="Stand" :choices="inUse(sheet.stands.value)" />
      <ReadingsColumns
        v-model:columns="draft.columns"
        v-model:units="draft.units"
        :shown="sheet.columns.value"
      />
    </div>
    <BenchDay v-if="draft.day === localDay()" class="small" />
    <ReadingsBlock
      v-for="(block, at) in draft.blocks"
      :key="at"
      :model-value="block"
      :number="count > 1 ? at + 1 : null"
      :supplies="inUse(supplies)"
      :packs="packs"
      :columns="sheet.columns.value"
      :units="draft.units"
      :looks="sheet.looksOf(at)"
      :checked="sheet.checked.value"
      :overruns="sheet.overruns(at)"
      :problem="problem"
      :place="at"
      @update:model-value="sheet.change(at, $event)"
      @drop="drop(at)"
    />
    <p v-if="look.isError.value" class="doubt" role="status">
      Unchecked: {{ sentenceOf(look.error.value) }} What is typed stays here.
    </p>
    <div class="acts">
      <el-button @click="sheet.add">Next propeller, motor or supply</el-button>
      <el-button
        type="primary"
        native-type="submit"
        :disabled="Boolean(missing.length)"
        :loading="busy"
        >{{ count > 1 ? `Keep as ${count} runs` : 'Keep as a run' }}</el-button
      >
      <span v-if="missing.length" class="soft small">{{ missing.join(' · ') }}</span>
    </div>
    <p v-if="!missing.length && sheet.impossible.value" class="doubt">
      A row cannot be true as it stands. It can be kept as it was typed; the run will say so.
    </p>
    <p v-if="problem" class="problem" role="alert">{{ sentenceOf(problem) }}</p>
  </el-form>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.of,
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: flex-end;
  margin: 0 0 8px;
}
.acts {
  align-items: center;
  margin: 10px 0 0;
}
.caution,
.doubt {
  border-left: 4px solid var(--caution);
  background: var(--caution-soft);
  padding: 6px 10px;
  margin: 8px 0 0;
}
.problem {
  color: var(--stop);
}
</style>
