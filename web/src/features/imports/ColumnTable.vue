<script setup lang="ts">
/** Columns of somebody's file: what each was taken for, how sure and why, what it would give. */
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import { unitOf } from '@/words/words'
import { type LogMapping, roleOf, roles, unitsOf, withColumn, withRole } from './mapping'
import ColumnTrace from './ColumnTrace.vue'

defineProps<{ columns: readonly Schemas['OpenedColumn'][] }>()
const mapping = defineModel<LogMapping>({ required: true })
const isChannel = (name: string) => Boolean(mapping.value.columns[name])
const rounded = (value: number | null) => (value === null ? null : Number(value.toPrecision(4)))
</script>

<template>
  <table class="grid columns">
    <thead>
      <tr>
        <th>Column</th>
        <th>It holds</th>
        <th>Read as</th>
        <th>In</th>
        <th class="num">Gives, from</th>
        <th class="num">to</th>
        <th>Why</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="column in columns" :key="column.name" :class="{ asks: column.ask }">
        <td class="name" :title="column.name">{{ column.name }}</td>
        <td class="holds small soft">
          <ColumnTrace v-if="column.trace.length" :values="column.trace" />
          <span>{{ column.samples.slice(0, 3).join(', ') }}</span>
        </td>
        <td>
          <el-select
            :model-value="roleOf(mapping, column.name)"
            filterable
            size="small"
            :empty-values="[undefined]"
            :aria-label="`${column.name} is`"
            @update:model-value="mapping = withRole(mapping, column.name, $event)"
          >
            <el-option
              v-for="role in roles()"
              :key="role.key"
              :value="role.key"
              :label="role.label"
            />
          </el-select>
        </td>
        <td class="unit">
          <el-select
            v-if="isChannel(column.name)"
            :model-value="mapping.columns[column.name]?.unit"
            size="small"
            :aria-label="`Unit of ${column.name}`"
            @update:model-value="mapping = withColumn(mapping, column.name, { unit: $event })"
          >
            <el-option
              v-for="unit in unitsOf(roleOf(mapping, column.name))"
              :key="unit"
              :value="unit"
              :label="unit"
            />
          </el-select>
        </td>
        <td class="num">
          <Figure
            v-if="isChannel(column.name)"
            :value="rounded(column.low)"
            :unit="unitOf(column.channel)"
          />
        </td>
        <td class="num">
          <Figure
            v-if="isChannel(column.name)"
            :value="rounded(column.high)"
            :unit="unitOf(column.channel)"
          />
        </td>
        <td class="why small">
          <template v-if="column.ask">
            <span class="tag caution">look</span> {{ column.ask }}
            <el-button
              v-if="column.low !== null"
              link
              size="small"
              @click="mapping = withColumn(mapping, column.name, {})"
              >That is right<span class="visually-hidden"> of {{ column.name }}</span></el-button
            >
            <el-button
              v-if="column.ask.includes('reversed')"
              link
              size="small"
              @click="
                mapping = withColumn(mapping, column.name, {
                  negate: !mapping.columns[column.name]?.negate,
                })
              "
              >Turn its sign</el-button
            >
          </template>
          <span v-else class="soft">{{ column.why }}</span>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.columns td {
  padding: 3px 6px;
}
.name {
  max-width: 150px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-weight: 700;
}
.holds {
  max-width: 230px;
}
.holds svg {
  float: left;
  margin-right: 8px;
}
.holds span {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.columns .el-select {
  width: 170px;
}
.unit .el-select {
  width: 124px;
}
.asks td {
  background: var(--caution-soft);
}
.why {
  max-width: 260px;
}
@media (max-width: 1000px) {
  .columns .el-select {
    width: 140px;
  }
  .columns .unit .el-select {
    width: 104px;
  }
}
</style>
