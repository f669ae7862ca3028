<template>
  <section class="sheet">
    <h1>Nothing here</h1>
    <p>This address leads nowhere. <RouterLink to="/">The board</RouterLink> says what is next.</p>
  </section>
</template>
