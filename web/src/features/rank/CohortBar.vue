<script setup lang="ts">
/** Who is ranked: the runs' load, sizes, bounds, and whether other propellers may stand in. */
import { computed, reactive, watch } from 'vue'
import { useRoute } from 'vue-router'
import { fieldMessage, type Schemas } from '@/api/client'
import { useAddress } from '@/app/useAddress'

const BOUNDS = [
  { name: 'most_mass_g', label: 'Mass up to', unit: 'g' },
  { name: 'most_price', label: 'Price up to', unit: '' },
  { name: 'cells', label: 'Flies on', unit: 'cells' },
  { name: 'thrust_gf', label: 'gf/W at', unit: 'gf' },
  { name: 'shaft_power_w', label: 'Shaft efficiency at', unit: 'W' },
] as const
const props = defineProps<{
  shown: Schemas['Ranking'] | undefined
  /** What the server says of what was asked. */
  refusal: unknown
}>()
const route = useRoute()
const { word, ask } = useAddress()
const texts = reactive<Record<string, string>>({})
watch(
  () => route.query,
  () => {
    for (const one of BOUNDS) texts[one.name] = word(one.name)
  },
  { immediate: true },
)
const sizes = computed({
  get: () => word('sizes').split(',').filter(Boolean),
  set: (picked: string[]) => ask({ sizes: picked.join(',') }),
})
const unitOf = (one: (typeof BOUNDS)[number]) =>
  one.name === 'most_price' ? (props.shown?.currency ?? '') : one.unit
</script>

<template>
  <div class="choices">
    <label class="load"
      >Runs on
      <el-select
        :model-value="shown?.load ?? ''"
        aria-label="Runs on"
        size="small"
        @update:model-value="ask({ load: String($event) })"
      >
        <el-option
          v-for="one in shown?.loads"
          :key="one.key"
          :value="one.key"
          :label="`${one.words} (${one.motors} motor${one.motors === 1 ? '' : 's'})`"
        />
      </el-select>
    </label>
    <el-select
      v-model="sizes"
      multiple
      collapse-tags
      clearable
      size="small"
      class="sizes"
      aria-label="Sizes"
      placeholder="every size"
    >
      <el-option v-for="one in shown?.sizes" :key="one" :value="one" :label="one" />
    </el-select>
    <form
      v-for="one in BOUNDS"
      :key="one.name"
      class="bound"
      @submit.prevent="ask({ [one.name]: texts[one.name] })"
    >
      <label :for="`bound-${one.name}`">{{ one.label }}</label>
      <el-input
        :id="`bound-${one.name}`"
        v-model="texts[one.name]"
        size="small"
        inputmode="decimal"
        autocomplete="off"
        placeholder="any"
        @change="ask({ [one.name]: String($event) })"
      />
      <span class="soft">{{ unitOf(one) }}</span>
      <p v-if="fieldMessage(refusal, one.name)" class="problem" role="alert">
        {{ fieldMessage(refusal, one.name) }}
      </p>
    </form>
    <el-checkbox
      :model-value="word('fill') === 'yes'"
      size="small"
      @update:model-value="ask({ fill: $event ? 'yes' : undefined })"
      >let runs on other propellers stand in, estimated</el-checkbox
    >
  </div>
</template>

<style scoped>
.load .el-select {
  width: 330px;
}
.sizes {
  width: 150px;
}
.bound .el-input {
  width: 62px;
}
.problem {
  flex-basis: 100%;
  margin: 0;
  color: var(--stop);
}
</style>
