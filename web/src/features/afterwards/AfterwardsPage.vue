<script setup lang="ts">
/** What comes after the bench: flights against their prediction, letters, points that wait. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { flightsQuery, followUpsQuery, lettersQuery } from '@/api/afterwardsQueries'
import { craftListQuery } from '@/api/judgeQueries'
import PageState from '@/app/PageState.vue'
import { useRouteQuery } from '@/app/useRouteQuery'
import { useSession } from '@/app/useSession'
import EraseName from './EraseName.vue'
import FlightForm from './FlightForm.vue'
import FlightTable from './FlightTable.vue'
import FlownSheet from './FlownSheet.vue'
import FollowUpList from './FollowUpList.vue'
import LetterForm from './LetterForm.vue'
import LetterRow from './LetterRow.vue'
import TableImport from './TableImport.vue'

const { mayWrite, mayAdmin } = useSession()
const look = useRouteQuery('look', 'flights')
const craftNamed = useRouteQuery('craft', '')
const crafts = useQuery(craftListQuery())
const craft = computed(() => {
  const rows = crafts.data.value ?? []
  return rows.find((one) => String(one.id) === craftNamed.value) ?? rows[0] ?? null
})
const page = ref(1)
const flights = useQuery(computed(() => flightsQuery(craft.value?.id ?? null, page.value)))
const letterPage = ref(1)
const letters = useQuery(computed(() => lettersQuery(letterPage.value)))
const points = useQuery(followUpsQuery())
</script>

<template>
  <h1>Afterwards</h1>
  <el-tabs v-model="look" aria-label="What came afterwards">
    <el-tab-pane name="flights" label="Flights" lazy>
      <PageState
        :loading="crafts.isPending.value"
        :error="crafts.error.value"
        :retry="crafts.refetch"
      />
      <p v-if="crafts.data.value && !craft" class="soft">
        No craft is kept yet; <RouterLink to="/match">Match</RouterLink> keeps them, with what they
        carry.
      </p>
      <template v-if="craft">
        <el-segmented
          v-if="(crafts.data.value?.length ?? 0) > 1"
          :model-value="craft.id"
          :options="(crafts.data.value ?? []).map((one) => ({ value: one.id, label: one.name }))"
          aria-label="Craft"
          @update:model-value="craftNamed = String($event)"
        />
        <section class="sheet" aria-labelledby="says">
          <h2 id="says">{{ craft.name }}, in the air and on the stand</h2>
          <p class="soft small">
            Foreseen is a hover as on the stand with the energy that was flown; what nobody put back
            and measured is taken as the usual share of the pack.
          </p>
          <FlownSheet :craft="craft.id" />
        </section>
        <section v-if="mayWrite" class="sheet" aria-labelledby="note-flight">
          <h2 id="note-flight">Note a flight</h2>
          <p class="soft small">
            Fly where it is allowed, props off while you work at the craft, packs charged and stored
            in a fire-safe place; the makers' instructions and local rules come first.
          </p>
          <FlightForm :key="craft.id" :craft="craft" />
          <TableImport of="flights" />
        </section>
        <section class="sheet" aria-labelledby="flights">
          <h2 id="flights">Flights</h2>
          <PageState
            :loading="flights.isPending.value"
            :error="flights.error.value"
            :retry="flights.refetch"
          />
          <p v-if="flights.data.value && !flights.data.value.count" class="soft">
            None is noted of this craft.
          </p>
          <FlightTable
            v-if="flights.data.value?.results.length"
            :flights="flights.data.value.results"
          />
          <el-pagination
            v-if="(flights.data.value?.count ?? 0) > 50"
            v-model:current-page="page"
            layout="prev, pager, next"
            :page-size="50"
            :total="flights.data.value?.count ?? 0"
          />
        </section>
      </template>
    </el-tab-pane>
    <el-tab-pane name="letters" label="Readers and makers" lazy>
      <section v-if="mayWrite" class="sheet" aria-labelledby="note-letter">
        <h2 id="note-letter">Note what somebody wrote</h2>
        <LetterForm />
        <TableImport of="letters" />
      </section>
      <section class="sheet" aria-labelledby="letters">
        <h2 id="letters">Letters</h2>
        <PageState
          :loading="letters.isPending.value"
          :error="letters.error.value"
          :retry="letters.refetch"
        />
        <p v-if="letters.data.value && !letters.data.value.count" class="soft">Nobody wrote yet.</p>
        <ul class="list">
          <LetterRow v-for="one in letters.data.value?.results" :key="one.id" :letter="one" />
        </ul>
        <el-pagination
          v-if="(letters.data.value?.count ?? 0) > 50"
          v-model:current-page="letterPage"
          layout="prev, pager, next"
          :page-size="50"
          :total="letters.data.value?.count ?? 0"
        />
        <EraseName v-if="mayAdmin" />
      </section>
    </el-tab-pane>
    <el-tab-pane name="waiting" label="Waiting" lazy>
      <section class="sheet" aria-labelledby="waiting">
        <h2 id="waiting">Points that wait</h2>
        <PageState
          :loading="points.isPending.value"
          :error="points.error.value"
          :retry="points.refetch"
        />
        <p v-if="points.data.value && !points.data.value.length" class="soft">
          Nothing waits. On a motor's file an open point can be told when to come back.
        </p>
        <FollowUpList v-if="points.data.value?.length" :points="points.data.value" motors />
      </section>
    </el-tab-pane>
  </el-tabs>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.list {
  margin: 0;
  padding: 0;
  list-style: none;
}
</style>
