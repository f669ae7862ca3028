<script setup lang="ts">
/** The run that is proposed: set it up, or pass over it with the reason; what runs meanwhile. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { meanwhileQuery, overridesQuery } from '@/api/benchQueries'
import { api, dataOf, fieldMessage, sentenceOf, type Schemas } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import TextField from '@/forms/TextField.vue'
import { dateTime } from '@/figures/format'

const props = defineProps<{
  campaign: number
  matrix: Schemas['Matrix']
  /** The cell in hand, which may be run in its place. */
  cell: { sample: number; propeller: number; name: string } | null
}>()
const emit = defineEmits<{ load: [sample: number, propeller: number, supply: number] }>()
const { mayWrite } = useSession()
const { data: meanwhile } = useQuery(
  computed(() => meanwhileQuery(props.campaign, props.matrix.supply)),
)
const { data: overrides } = useQuery(computed(() => overridesQuery(props.campaign)))
const passing = ref(false)
const instead = ref(false)
const reason = ref('')
const next = computed(() => props.matrix.next)
const active = computed(() =>
  (overrides.value ?? []).filter((one) => one.active && one.supply === props.matrix.supply),
)
const old = computed(() => (overrides.value ?? []).filter((one) => !one.active))
/** The cell in hand is another than the proposed one. */
const other = computed(() => {
  const cell = props.cell
  const one = next.value
  if (!cell || !one) return null
  return cell.sample === one.sample && cell.propeller === one.propeller ? null : cell
})
const writing = useWrite('campaign', async (body: Schemas['NewOverrideRequest']) =>
  dataOf(
    await api.POST('/api/v1/campaigns/{id}/overrides/', {
      params: { path: { id: props.campaign } },
      body,
    }),
  ),
)
const taking = useWrite('campaign', async (row: Schemas['Override']) =>
  dataOf(
    await api.PATCH('/api/v1/overrides/{id}/', {
      params: { path: { id: row.id } },
      body: { active: false, version: row.version },
    }),
  ),
)
async function passOver() {
  const one = next.value
  const chosen = instead.value ? other.value : null
  if (!one || !reason.value.trim()) return
  const kept = await writing.send({
    supply: props.matrix.supply,
    sample: one.sample,
    propeller: one.propeller,
    reason: reason.value,
    chosen_sample: chosen?.sample ?? null,
    chosen_propeller: chosen?.propeller ?? null,
  })
  if (!kept) return
  passing.value = false
  reason.value = ''
  if (chosen) emit('load', chosen.sample, chosen.propeller, props.matrix.supply)
}
watch(
  () => props.matrix.supply,
  () => {
    passing.value = false
    writing.clear()
  },
)
</script>

<template>
  <section class="sheet next" aria-label="What to run next">
    <h2>What to run next</h2>
    <p v-if="meanwhile?.waits" class="waits" role="status">
      <span class="tag caution">waits</span> {{ meanwhile.waits }}.
      <template v-if="meanwhile.next"
        >Meanwhile on {{ meanwhile.supply_name }}: {{ meanwhile.next.sentence }}</template
      ><template v-else>No other supply of this campaign has something to run.</template>
      <el-button
        v-if="meanwhile.next && meanwhile.supply && mayWrite"
        size="small"
        @click="emit('load', meanwhile.next.sample, meanwhile.next.propeller, meanwhile.supply)"
        >Set that up</el-button
      >
    </p>
    <template v-if="next">
      <p>
        <template v-if="meanwhile?.waits">On {{ matrix.supply_name }} afterwards: </template
        >{{ next.sentence }}
      </p>
      <template v-if="mayWrite">
        <el-button
          :type="meanwhile?.waits ? 'default' : 'primary'"
          @click="emit('load', next.sample, next.propeller, matrix.supply)"
          >Set it up at the bench</el-button
        >
        <el-button :aria-expanded="passing" @click="passing = !passing">Not this one …</el-button>
        <form v-if="passing" class="pass" @submit.prevent="passOver">
          <TextField
            v-model="reason"
            label="Why not"
            :maxlength="240"
            :problem="fieldMessage(writing.problem.value, 'reason')"
            width="wide"
          />
          <el-checkbox v-if="other" v-model="instead"
            >Run instead what is in hand: {{ other.name }}</el-checkbox
          >
          <el-button
            type="primary"
            native-type="submit"
            :disabled="!reason.trim()"
            :loading="writing.busy.value"
            >{{ instead && other ? 'Pass over and set up' : 'Pass over it' }}</el-button
          >
        </form>
      </template>
    </template>
    <p v-else>{{ matrix.nothing_next }}</p>
    <p v-if="writing.problem.value || taking.problem.value" role="alert" class="fault">
      {{ sentenceOf(writing.problem.value ?? taking.problem.value) }}
    </p>
    <details v-if="active.length || old.length" class="small">
      <summary>
        {{ active.length }} passed over<template v-if="old.length"
          >, {{ old.length }} taken back</template
        >
      </summary>
      <ul>
        <li v-for="one in [...active, ...old]" :key="one.id" :class="{ soft: !one.active }">
          {{ one.sample_name }} on {{ one.propeller_name }}: “{{ one.reason }}”<template
            v-if="one.chosen_name"
            >, instead {{ one.chosen_name }}</template
          >
          <span class="soft"
            >{{ one.decided_by_name }}, {{ dateTime(one.decided_at)
            }}{{ one.active ? '' : ', taken back' }}</span
          >
          <el-button
            v-if="one.active && mayWrite"
            text
            size="small"
            :loading="taking.busy.value"
            @click="taking.send(one)"
            >Propose it again</el-button
          >
        </li>
      </ul>
    </details>
  </section>
</template>

<style scoped>
.next {
  border-left: 5px solid var(--copper);
  margin-bottom: 12px;
}
.next > p {
  font-size: 15px;
  margin: 4px 0 8px;
}
.waits .el-button,
.next > .el-button + .el-button {
  margin-left: 8px;
}
.pass {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: flex-end;
  margin: 8px 0;
}
ul {
  margin: 4px 0 0;
  padding-left: 18px;
}
.fault {
  color: var(--stop);
}
</style>
