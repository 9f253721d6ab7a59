<script setup lang="ts">
import { mdiExitToApp, mdiWeatherNight, mdiWeatherSunny } from '@mdi/js'
import { useOnline } from '@vueuse/core'
import { useRoute, useRouter } from 'vue-router'
import { useQueryClient } from '@tanstack/vue-query'
import { lost } from './api/client'
import LanguageBtn from './session/LanguageBtn.vue'
import SignInAgain from './session/SignInAgain.vue'
import { useSession } from './session/session'
import { useNight } from './session/useNight'
import { sentence } from './words/words'
import { text } from '@/words/words'

const session = useSession()
const route = useRoute()
const router = useRouter()
const night = useNight()
const queries = useQueryClient()
const online = useOnline()

async function leave() {
  await session.signOut()
  queries.clear()
  await router.push('/sign-in')
}
</script>

<template>
  <v-app>
    <a class="skip" href="#main">{{ text('app.skip') }}</a>
    <header v-if="session.me && !route.meta.bare" class="top no-print">
      <router-link class="mark" :to="session.home" :aria-label="text('app.home')">Zan<b>j</b>ero</router-link>
      <nav v-if="!session.me.must_change" :aria-label="text('app.main')">
        <template v-if="session.me.role === 'instructor'">
          <router-link to="/yard">{{ text('yard.title') }}</router-link>
          <router-link to="/yard/new-job">{{ text('yard.set') }}</router-link>
          <router-link to="/yard/scenarios">{{ text('title.scenarios') }}</router-link>
          <router-link to="/yard/procedures">{{ text('title.procedures') }}</router-link>
          <router-link to="/reviews">{{ text('title.reviews') }}</router-link>
          <router-link to="/people">{{ text('title.people') }}</router-link>
          <router-link to="/inside">{{ text('title.inside') }}</router-link>
        </template>
        <router-link v-else-if="session.me.role === 'assessor'" to="/reviews">{{ text('title.reviews') }}</router-link>
        <template v-else-if="session.me.role === 'coordinator'">
          <router-link to="/people">{{ text('title.people') }}</router-link>
          <router-link to="/audit">{{ text('title.audit') }}</router-link>
        </template>
        <template v-else>
          <router-link to="/jobs">{{ text('jobs.title') }}</router-link>
          <router-link :to="`/people/${session.me.id}/record`">{{ text('title.my-record') }}</router-link>
        </template>
        <router-link to="/aids">{{ text('bench.aids') }}</router-link>
      </nav>
      <span class="grow"></span>
      <span v-if="lost || !online" class="lost" role="status">{{ text('app.lost') }}</span>
      <span class="muted who">{{
        text('app.who', { name: session.me.display_name, role: text(`app.${session.me.role}`) })
      }}</span>
      <LanguageBtn />
      <v-btn
        variant="text"
        :icon="night ? mdiWeatherSunny : mdiWeatherNight"
        :aria-label="text(night ? 'bench.day-shift' : 'bench.night-shift')"
        @click="night = !night"
      />
      <v-btn variant="text" :icon="mdiExitToApp" :aria-label="text('app.sign-out')" @click="leave" />
    </header>
    <main id="main" tabindex="-1">
      <p v-if="session.away" class="page muted" role="status">{{ sentence({ code: 'page.server-away' }) }}</p>
      <router-view :key="route.path" />
    </main>
    <SignInAgain v-if="session.ended" />
  </v-app>
</template>

<style scoped>
.skip {
  position: absolute;
  left: -999px;
}
.skip:focus {
  left: 12px;
  top: 8px;
  z-index: 10;
  background: var(--panel);
  padding: 8px 12px;
}
.top {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0 14px;
  padding: 6px 20px;
  border-bottom: 1.5px solid var(--line);
}
.mark {
  font: 600 26px/1 var(--label);
  color: var(--ink);
  text-decoration: none;
  padding: 8px 0;
}
.mark b {
  color: var(--link);
}
nav {
  display: flex;
  gap: 4px;
}
nav a {
  font: 600 17px/1 var(--label);
  color: var(--muted);
  text-decoration: none;
  padding: 14px 12px;
  border-bottom: 3px solid transparent;
  white-space: nowrap;
}
nav a.router-link-exact-active {
  color: var(--ink);
  border-color: var(--link);
}
.lost {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
  padding: 8px 12px;
  border-radius: 10px;
  font: 600 15px/1.1 var(--label);
}
/* Where a message needs the room, the name gives way. */
.who {
  flex: 0 1 auto;
  min-width: 0;
  max-width: 24ch;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.lost + .who {
  display: none;
}
main:focus {
  outline: none;
}
@media (max-width: 600px) {
  .who {
    display: none;
  }
  /* The ways go under the name, in a line that is pushed along by a thumb. */
  .top {
    flex-wrap: wrap;
    gap: 0 10px;
    padding: 2px 10px 0;
  }
  nav {
    order: 1;
    flex-basis: 100%;
    overflow-x: auto;
    scrollbar-width: none;
  }
  nav a {
    white-space: nowrap;
    padding-inline: 10px;
  }
}
</style>
