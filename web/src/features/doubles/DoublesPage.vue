<script setup lang="ts">
/** Makers, motors and propellers that are on the bench twice become one. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { doublesQuery } from '@/api/doublesQueries'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import { dateTime } from '@/figures/format'
import { ADDRESS, THINGS, type Two } from './doubles'
import MergeSheet from './MergeSheet.vue'
import TwoChooser from './TwoChooser.vue'

const { mayPublish } = useSession()
const doubles = useQuery(doublesQuery())
const found = computed(() => doubles.data.value)
const chosen = ref<Two | null>(null)
const said = ref('')

function look(two: Two) {
  chosen.value = two
  said.value = ''
}
function done(merged: Schemas['Merger']) {
  chosen.value = null
  said.value = `${merged.gone_name} is ${merged.stays_name} now.`
}
</script>

<template>
  <h1>Doubles</h1>
  <p class="soft">
    What was typed twice becomes one: samples, runs, claims and everything else move to the one that
    stays, with their history. Files that call it by its old name still find it.
  </p>
  <p v-if="said" class="said" role="status">{{ said }}</p>
  <PageState
    :loading="doubles.isPending.value"
    :error="doubles.error.value"
    :retry="doubles.refetch"
  />
  <template v-if="found">
    <MergeSheet
      v-if="chosen"
      :key="`${chosen.thing} ${chosen.stays} ${chosen.gone}`"
      :two="chosen"
      @merged="done"
      @turn="chosen = { ...chosen, stays: chosen.gone, gone: chosen.stays }"
      @leave="chosen = null"
    />
    <section class="sheet" aria-labelledby="may-be">
      <h2 id="may-be">These may be one</h2>
      <p v-if="!found.pairs.length" class="soft">
        No two names are alike but for case, blanks and signs.
      </p>
      <el-table v-else :data="found.pairs" size="small" max-height="420">
        <el-table-column label="what" width="90">
          <template #default="{ row }">{{ THINGS[row.thing as Two['thing']] }}</template>
        </el-table-column>
        <el-table-column label="the older" prop="stays_name" min-width="150" />
        <el-table-column label="the newer" prop="gone_name" min-width="150" />
        <el-table-column label="why" prop="why" min-width="150" />
        <el-table-column v-if="mayPublish" width="126" fixed="right">
          <template #header><span class="visually-hidden">To do</span></template>
          <template #default="{ row }">
            <el-button
              size="small"
              :aria-label="`Look at them: ${row.stays_name} and ${row.gone_name}`"
              @click="look(row as Two)"
              >Look at them</el-button
            >
          </template>
        </el-table-column>
      </el-table>
      <p v-if="found.more" class="soft small">{{ found.more }} more pairs come after these.</p>
    </section>
    <TwoChooser v-if="mayPublish" @chosen="look" />
    <p v-else class="soft">An editor can merge them.</p>
    <section v-if="found.merged.length" class="sheet" aria-labelledby="were">
      <h2 id="were">Merged before</h2>
      <ul class="were">
        <li v-for="one in found.merged" :key="one.id">
          {{ one.gone_name }}, {{ THINGS[one.thing] }}, {{ dateTime(one.merged_at).slice(0, 10) }}
          <RouterLink v-if="ADDRESS[one.thing]" :to="`${ADDRESS[one.thing]}${one.stays}`"
            >what it is now</RouterLink
          >
        </li>
      </ul>
    </section>
  </template>
</template>

<style scoped>
.sheet {
  margin-top: 14px;
}
.sheet h2 {
  margin-bottom: 8px;
}
.said {
  font-weight: 600;
}
.were {
  margin: 6px 0 0;
  padding-left: 18px;
}
</style>
