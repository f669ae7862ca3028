<script setup lang="ts">
/** Several packs as one supply: what is known of it follows from them. */
import { computed, ref, useId } from 'vue'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import ChoiceField from '@/forms/ChoiceField.vue'
import FieldRow from '@/forms/FieldRow.vue'
import TextField from '@/forms/TextField.vue'
import { choices } from '@/words/words'

const props = defineProps<{ supplies: readonly Schemas['Supply'][] }>()
const emit = defineEmits<{ done: [] }>()
const name = ref('')
const way = ref<string | null>(null)
const packs = ref<number[]>([])
const field = useId()
/** Only single packs of known cells and capacity can be reckoned together. */
const single = computed(() =>
  props.supplies.filter(
    (one) => one.kind === 'pack' && !one.joined && !one.retired && one.cells && one.capacity_mah,
  ),
)
const writing = useWrite('supply', async (body: Schemas['NewSupplyRequest']) =>
  dataOf(await api.POST('/api/v1/supplies/', { body })),
)
const FIELDS = ['name', 'joined', 'packs']
const said = (key: string) => fieldMessage(writing.problem.value, key)
const rest = computed(() =>
  writing.problem.value && !FIELDS.some(said) ? sentenceOf(writing.problem.value) : '',
)
async function join() {
  const kept = await writing.send({
    name: name.value,
    kind: 'pack',
    joined: way.value as 'series',
    packs: packs.value,
  })
  if (kept) emit('done')
}
</script>

<template>
  <el-form class="join" @submit.prevent="join">
    <TextField v-model="name" label="Name of the joined supply" :problem="said('name')" />
    <ChoiceField
      v-model="way"
      label="Joined"
      :choices="choices('joined')"
      :problem="said('joined')"
    />
    <FieldRow :for="field" label="Packs" :problem="said('packs')" width="wide">
      <el-select :id="field" v-model="packs" multiple filterable placeholder="two or more">
        <el-option v-for="one in single" :key="one.id" :value="one.id" :label="one.name" />
      </el-select>
    </FieldRow>
    <el-button
      type="primary"
      native-type="submit"
      :loading="writing.busy.value"
      :disabled="!name.trim() || !way || packs.length < 2"
      >Join</el-button
    >
  </el-form>
  <p v-if="rest" class="problem" role="alert">{{ rest }}</p>
  <p class="small advice">
    In parallel: equal chemistry, cells and charge only, each checked with a meter first; a
    part-used pack takes from a fresh one without limit. In series: equal packs, equally charged. As
    the packs' maker allows it.
  </p>
</template>

<style scoped>
.join {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: flex-end;
  margin-top: 8px;
}
.advice {
  margin-top: 8px;
}
.problem {
  color: var(--stop);
}
</style>
