<script setup lang="ts">
/** Columns of somebody's file: what each was taken for, how sure and why, what it would give. */
import { ref } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import { unitOf } from '@/words/words'
import {
  HOWS,
  type LogMapping,
  roleOf,
  roles,
  together,
  unitsOf,
  withColumn,
  withRole,
} from './mapping'
import ColumnTrace from './ColumnTrace.vue'

const props = defineProps<{ columns: readonly Schemas['OpenedColumn'][] }>()
const mapping = defineModel<LogMapping>({ required: true })
const isChannel = (name: string) => Boolean(mapping.value.columns[name])
/** Columns for which somebody asked for a second one, before it was chosen. */
const asking = ref<Record<string, string>>({})
const howOf = (name: string) => mapping.value.columns[name]?.how || asking.value[name] || ''
const numbers = (but: string) =>
  props.columns.filter((one) => one.name !== but && one.trace.some((value) => value !== null))
function take(name: string, how: string) {
  asking.value[name] = how
  const other = mapping.value.columns[name]?.other ?? ''
  mapping.value = together(mapping.value, name, how, other)
}
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
          <span v-if="howOf(column.name)" class="second">
            <el-select
              :model-value="howOf(column.name)"
              size="small"
              :aria-label="`${column.name} is taken`"
              @update:model-value="take(column.name, $event)"
            >
              <el-option v-for="how in HOWS" :key="how.key" :value="how.key" :label="how.label" />
            </el-select>
            <el-select
              :model-value="mapping.columns[column.name]?.other || undefined"
              size="small"
              filterable
              placeholder="which column"
              :aria-label="`Column taken together with ${column.name}`"
              @update:model-value="
                mapping = together(mapping, column.name, howOf(column.name), $event)
              "
            >
              <el-option
                v-for="one in numbers(column.name)"
                :key="one.name"
                :value="one.name"
                :label="one.name"
              />
            </el-select>
          </span>
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
          <el-button
            v-if="isChannel(column.name) && column.channel !== 'time_s' && !howOf(column.name)"
            link
            size="small"
            @click="asking[column.name] = 'plus'"
            >With a second column<span class="visually-hidden">
              beside {{ column.name }}</span
            ></el-button
          >
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
.second {
  display: block;
  margin-top: 3px;
}
.unit .second .el-select:first-child {
  width: 78px;
  margin-right: 4px;
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
