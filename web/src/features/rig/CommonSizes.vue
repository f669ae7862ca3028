<script setup lang="ts">
/** Common sizes of propellers, to begin a library with. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, sentenceOf } from '@/api/client'
import { commonSizesQuery } from '@/api/rigQueries'
import { useWrite } from '@/api/useWrite'

const props = defineProps<{ open: boolean }>()
const { data: sizes } = useQuery(computed(() => ({ ...commonSizesQuery(), enabled: props.open })))
const left = computed(() => sizes.value?.filter((size) => !size.taken) ?? [])
const chosen = ref<string[]>([])
const taking = useWrite('propeller', (wanted: string[]) =>
  api.POST('/api/v1/propellers/common-sizes/', { body: { sizes: wanted } }),
)
async function take() {
  if (await taking.send(chosen.value)) chosen.value = []
}
</script>

<template>
  <div v-if="open" class="common">
    <p class="soft small">
      Diameter × pitch in inches × blades, of no maker in particular. A run names what was on the
      motor: add your own where you know its maker.
    </p>
    <p v-if="sizes && !left.length" class="soft">All of them are in the library.</p>
    <el-checkbox-group v-else v-model="chosen" aria-label="Common sizes">
      <el-checkbox v-for="size in left" :key="size.text" :value="size.text">{{
        size.text
      }}</el-checkbox>
    </el-checkbox-group>
    <el-button
      v-if="left.length"
      type="primary"
      size="small"
      :disabled="!chosen.length"
      :loading="taking.busy.value"
      @click="take"
      >Take {{ chosen.length || '' }} into the library</el-button
    >
    <p v-if="taking.problem.value" class="problem" role="alert">
      {{ sentenceOf(taking.problem.value) }}
    </p>
  </div>
</template>

<style scoped>
.common {
  border-left: 3px solid var(--copper);
  padding: 4px 0 4px 12px;
  margin: 8px 0;
}
.problem {
  color: var(--stop);
}
</style>
