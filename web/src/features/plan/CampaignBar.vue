<script setup lang="ts">
/** Which campaign is planned, on which supply, and how its rows are sorted. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { suppliesQuery } from '@/api/rigQueries'
import { wordOf } from '@/words/words'
import type { Sorting } from './cells'

type Campaign = Schemas['Campaign']
const props = defineProps<{ all: Campaign[]; campaign: Campaign; supply: number | null }>()
const sorting = defineModel<Sorting>('sorting', { required: true })
const emit = defineEmits<{ choose: [id: number]; supply: [id: number] }>()
const named = useQuery(suppliesQuery())
const supplies = computed(() =>
  props.campaign.supplies.map((id) => ({
    id,
    name: named.data.value?.find((one) => one.id === id)?.name ?? String(id),
  })),
)
</script>

<template>
  <div class="bar">
    <el-select
      v-if="all.length > 1"
      :model-value="campaign.id"
      aria-label="Campaign"
      filterable
      @update:model-value="(id: number) => emit('choose', id)"
    >
      <el-option v-for="one in all" :key="one.id" :value="one.id" :label="one.title" />
    </el-select>
    <strong v-else>{{ campaign.title }}</strong>
    <span class="soft">{{ wordOf('question', campaign.question) }}</span>
    <el-radio-group
      :model-value="supply ?? 0"
      aria-label="Supply"
      size="small"
      @update:model-value="emit('supply', Number($event))"
    >
      <el-radio-button v-for="one in supplies" :key="one.id" :value="one.id" :label="one.name" />
    </el-radio-group>
    <label class="sorting"
      >Rows
      <el-select v-model="sorting" size="small" aria-label="Order of the rows">
        <el-option value="as_named" label="as named" />
        <el-option value="thrust_gf" label="by largest thrust" />
        <el-option value="common_g_per_w" label="by g/W" />
        <el-option value="used" label="by room below the limits" />
      </el-select>
    </label>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 18px;
  margin: 4px 0 10px;
}
.bar .el-select {
  width: 260px;
}
.sorting {
  display: flex;
  align-items: center;
  gap: 8px;
}
.bar .sorting .el-select {
  width: 190px;
}
</style>
