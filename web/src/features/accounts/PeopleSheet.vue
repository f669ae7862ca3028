<script setup lang="ts">
/** Everybody who may come in: roles, new passwords, who is let in no longer, who did what. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, dataOf, type Schemas, sentenceOf } from '@/api/client'
import { peopleQuery } from '@/api/peopleQueries'
import { useWrite } from '@/api/useWrite'
import PageState from '@/app/PageState.vue'
import { dateTime } from '@/figures/format'
import DeedList from './DeedList.vue'
import NewPerson from './NewPerson.vue'
import { madeUp } from './password'
import { ROLES } from './roles'
import AccessRule from './AccessRule.vue'

type Person = Schemas['Person']
const { data: people, isPending, error, refetch } = useQuery(peopleQuery())
const shown = ref<number | null>(null)
/** A password that was just made for somebody: told once. */
const told = ref<{ whose: string; password: string; anew?: boolean } | null>(null)

const changing = useWrite(
  'person',
  async ({ person, ...body }: { person: Person } & Schemas['PatchedChangePersonRequest']) =>
    dataOf(
      await api.PATCH('/api/v1/users/{id}/', {
        params: { path: { id: person.id } },
        body: { version: person.version, ...body },
      }),
    ),
)
/** A change; where it is refused, what stands there now is shown beside the reason. */
async function change(asked: Parameters<typeof changing.send>[0]) {
  await changing.send(asked)
  if (changing.problem.value) await refetch()
}
const resetting = useWrite('person', async (asked: { person: Person; password: string }) =>
  dataOf(
    await api.POST('/api/v1/users/{id}/password/', {
      params: { path: { id: asked.person.id } },
      body: { password: asked.password },
    }),
  ),
)
async function reset(person: Person) {
  told.value = null
  const password = madeUp()
  await resetting.send({ person, password })
  if (!resetting.problem.value) told.value = { whose: person.shown_name, password, anew: true }
}
const forgetting = useWrite('person', async (person: Person) =>
  dataOf(
    await api.DELETE('/api/v1/users/{id}/second-factor/', { params: { path: { id: person.id } } }),
  ),
)
</script>

<template>
  <section class="sheet" aria-labelledby="everybody">
    <h2 id="everybody">Who may come in</h2>
    <PageState :loading="isPending" :error="error" :retry="refetch" />
    <p v-if="told" class="told" role="status">
      The password of {{ told.whose }} is <code>{{ told.password }}</code>. It is shown this once;
      they may change it themselves.
      <template v-if="told.anew">They are logged out everywhere.</template>
    </p>
    <p v-if="changing.problem.value" class="fault" role="alert">
      {{ sentenceOf(changing.problem.value) }}
    </p>
    <p v-if="resetting.problem.value" class="fault" role="alert">
      {{ sentenceOf(resetting.problem.value) }}
    </p>
    <p v-if="forgetting.problem.value" class="fault" role="alert">
      {{ sentenceOf(forgetting.problem.value) }}
    </p>
    <table v-if="people" class="grid wide">
      <thead>
        <tr>
          <th>Name</th>
          <th>Logs in as</th>
          <th>May</th>
          <th class="num">Last logged in</th>
          <th><span class="visually-hidden">Actions</span></th>
        </tr>
      </thead>
      <tbody>
        <template v-for="one in people" :key="one.id">
          <tr :class="{ out: !one.is_active }">
            <td>
              {{ one.shown_name }}
              <span v-if="!one.is_active" class="tag caution">let in no longer</span>
            </td>
            <td>{{ one.username }}</td>
            <td>
              <el-select
                :model-value="one.role"
                size="small"
                :aria-label="`What ${one.shown_name} may`"
                @update:model-value="change({ person: one, role: $event })"
              >
                <el-option
                  v-for="role in ROLES"
                  :key="role.key"
                  :value="role.key"
                  :label="role.label"
                />
              </el-select>
            </td>
            <td class="num">{{ one.last_login ? dateTime(one.last_login) : 'never' }}</td>
            <td class="actions">
              <el-button size="small" @click="shown = shown === one.id ? null : one.id"
                >What they did</el-button
              >
              <el-popconfirm
                :title="`Give ${one.shown_name} a new password and log them out everywhere?`"
                confirm-button-text="Yes"
                cancel-button-text="No"
                width="280"
                @confirm="reset(one)"
              >
                <template #reference>
                  <el-button size="small">New password</el-button>
                </template>
              </el-popconfirm>
              <el-popconfirm
                v-if="one.second_factor"
                :title="`Did ${one.shown_name} lose telephone and paper? They log in by password alone then, and are logged out everywhere.`"
                confirm-button-text="Yes"
                cancel-button-text="No"
                width="280"
                @confirm="forgetting.send(one)"
              >
                <template #reference>
                  <el-button size="small">End second factor</el-button>
                </template>
              </el-popconfirm>
              <el-button size="small" @click="change({ person: one, is_active: !one.is_active })">{{
                one.is_active ? 'Let in no longer' : 'Let in again'
              }}</el-button>
            </td>
          </tr>
          <tr v-if="shown === one.id">
            <td colspan="5"><DeedList :person="one.id" /></td>
          </tr>
        </template>
      </tbody>
    </table>
    <NewPerson @made="told = $event" />
    <AccessRule />
  </section>
</template>

<style scoped>
.wide {
  width: 100%;
}
td {
  vertical-align: middle;
}
.out td:first-child {
  color: var(--ink-soft);
}
td.num {
  white-space: nowrap;
}
.el-select {
  width: 140px;
}
@media (max-width: 1000px) {
  .wide {
    font-size: 13px;
  }
  .el-select {
    width: 118px;
  }
  .actions .el-button + .el-button {
    margin-left: 4px;
  }
  .actions .el-button {
    padding: 5px 7px;
  }
}
.actions {
  white-space: nowrap;
}
.told {
  padding: 6px 10px;
  border-left: 3px solid var(--within);
}
.fault {
  color: var(--stop);
}
</style>
