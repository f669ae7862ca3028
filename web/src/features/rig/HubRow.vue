<script setup lang="ts">
/** One propeller of the library and what its hub measures, kept when a field is left. */
import { ref, watch } from 'vue'
import { api, dataOf, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import Figure from '@/figures/Figure.vue'
import { optional } from '@/features/intake/typed'
import { entered } from '@/figures/entryUnits'
import { choices, wordOf } from '@/words/words'

const props = defineProps<{
  propeller: Schemas['Propeller']
}>()
const FIELDS = [
  ['mass_g', 'mass', 'g'],
  ['bore_mm', 'bore', 'mm'],
  ['hub_thickness_mm', 'hub thickness', 'mm'],
  ['hole_circle_mm', 'circle of the two holes', 'mm'],
  ['hole_mm', 'size of the two holes', 'mm'],
] as const
const { mayWrite } = useSession()
const measuring = useWrite('propeller', async (body: Schemas['PatchedChangedPropellerRequest']) =>
  dataOf(
    await api.PATCH('/api/v1/propellers/{id}/', {
      params: { path: { id: props.propeller.id } },
      body,
    }),
  ),
)
const typed = ref<Record<string, string>>({})
const problem = ref('')
const version = ref(props.propeller.version)
let writing: Promise<unknown> = Promise.resolve()
watch(
  () => props.propeller,
  (row) => {
    version.value = row.version
    for (const [field] of FIELDS) typed.value[field] = row[field] == null ? '' : String(row[field])
  },
  { immediate: true },
)

async function keep([field, , unit]: (typeof FIELDS)[number]) {
  const other = entered(typed.value[field] ?? '', unit)
  if (other) typed.value[field] = other.text
  const value = optional(typed.value[field] ?? '')
  problem.value = value === undefined ? `A number in ${unit}, or leave it empty.` : ''
  if (value === undefined || value === (props.propeller[field] ?? null)) return
  // One field after the other: each is made from the version that the one before it left.
  writing = writing.then(() => write(field, value))
}

async function turn(turns: string) {
  const row = await measuring.send({
    turns: turns as Schemas['PatchedChangedPropellerRequest']['turns'],
    version: version.value,
  })
  problem.value = row ? '' : sentenceOf(measuring.problem.value)
}

async function retire() {
  const row = await measuring.send({ retired: !props.propeller.retired, version: version.value })
  problem.value = row ? '' : sentenceOf(measuring.problem.value)
}

async function here() {
  const row = await measuring.send({ at_hand: !props.propeller.at_hand, version: version.value })
  problem.value = row ? '' : sentenceOf(measuring.problem.value)
}

async function write(field: (typeof FIELDS)[number][0], value: number | null) {
  const row = await measuring.send({ [field]: value, version: version.value })
  if (row) version.value = row.version
  else problem.value = sentenceOf(measuring.problem.value)
}
</script>

<template>
  <tr>
    <td class="name">
      {{ propeller.full_name }} <span v-if="propeller.retired" class="tag">retired</span>
      <span v-else-if="propeller.at_hand === false" class="tag">not at hand</span>
      <div v-if="problem" class="problem" role="alert">{{ problem }}</div>
    </td>
    <td v-for="one in FIELDS" :key="one[0]" class="num">
      <el-input
        v-if="mayWrite"
        v-model="typed[one[0]]"
        class="size"
        size="small"
        inputmode="decimal"
        :aria-label="`${propeller.full_name}: ${one[1]}, ${one[2]}`"
        @change="keep(one)"
      />
      <Figure v-else :value="propeller[one[0]]" :unit="one[2]" />
    </td>
    <td>
      <el-radio-group
        v-if="mayWrite"
        size="small"
        :model-value="propeller.turns ?? ''"
        :aria-label="`${propeller.full_name} turns`"
        @update:model-value="turn(String($event))"
      >
        <el-radio-button value="" label="?" title="not noted" />
        <el-radio-button
          v-for="one in choices('prop_turns')"
          :key="one.key"
          :value="one.key"
          :label="one.key"
          :title="one.label"
        />
      </el-radio-group>
      <template v-else>{{ wordOf('prop_turns', propeller.turns) }}</template>
    </td>
    <td class="num">
      <el-button v-if="mayWrite" link size="small" :loading="measuring.busy.value" @click="retire"
        >{{ propeller.retired ? 'Put back' : 'Retire'
        }}<span class="visually-hidden"> {{ propeller.full_name }}</span></el-button
      >
      <el-button
        v-if="mayWrite && !propeller.retired"
        link
        size="small"
        :loading="measuring.busy.value"
        @click="here"
        >{{ propeller.at_hand === false ? 'Is here' : 'Not here'
        }}<span class="visually-hidden"> {{ propeller.full_name }}</span></el-button
      >
    </td>
  </tr>
</template>

<style scoped>
.el-radio-group {
  vertical-align: middle;
}
.size {
  width: 58px;
}
.size :deep(input) {
  text-align: right;
}
.name {
  white-space: nowrap;
}
.problem {
  color: var(--stop);
  font-size: 12.5px;
}
</style>
