import { createRouter, createWebHistory } from "vue-router";
// the bench and what is around it come with the start: one wait less until the pages are shown
import BenchScreen from "@/screens/BenchScreen.vue";
import SiteFrame from "@/screens/SiteFrame.vue";
import { useSession } from "@/stores/session";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

export const router = createRouter({
  history: createWebHistory("/"),
  routes: [
    { path: "/", name: "shelf", component: () => import("@/screens/ShelfScreen.vue"), meta: { title: "Your sites" } },
    {
      path: "/sign-in",
      name: "sign-in",
      component: () => import("@/screens/SignInScreen.vue"),
      meta: { open: true, title: "Sign in" },
    },
    {
      path: "/account",
      name: "account",
      component: () => import("@/screens/AccountScreen.vue"),
      meta: { title: "Your account" },
    },
    {
      path: "/account/confirm/:key",
      name: "confirm",
      component: () => import("@/screens/ConfirmScreen.vue"),
      meta: { open: true, title: "Confirm your address" },
    },
    {
      path: "/account/reset/:key?",
      name: "reset",
      component: () => import("@/screens/ResetScreen.vue"),
      meta: { open: true, title: "A new password" },
    },
    {
      path: "/mailbox",
      name: "mailbox",
      component: () => import("@/screens/MailboxScreen.vue"),
      meta: { open: true, title: "Mailbox" },
    },
    {
      path: "/coming-in/:job(\\d+)",
      name: "coming-in",
      component: () => import("@/screens/ComingInScreen.vue"),
      meta: { title: "Reading your site" },
    },
    {
      path: "/sites/:slug",
      component: SiteFrame,
      children: [
        { path: "", redirect: { name: "bench" } },
        {
          path: "came-in",
          name: "came-in",
          component: () => import("@/screens/CameInScreen.vue"),
          meta: { title: "Site" },
        },
        {
          path: "palette",
          name: "palette",
          component: () => import("@/screens/PaletteScreen.vue"),
          meta: { title: "What each colour is for" },
        },
        {
          path: "found",
          name: "found",
          component: () => import("@/screens/FoundScreen.vue"),
          meta: { title: "Colours found" },
        },
        {
          path: "bench",
          name: "bench",
          component: BenchScreen,
          meta: { title: "Bench" },
        },
        {
          path: "sections",
          name: "sections",
          component: () => import("@/screens/SectionsScreen.vue"),
          meta: { title: "Sections" },
        },
        {
          path: "backdrop",
          name: "backdrop",
          component: () => import("@/screens/BackdropScreen.vue"),
          meta: { title: "Backdrop" },
        },
        {
          path: "close-up",
          name: "close-up",
          component: () => import("@/screens/CloseUpScreen.vue"),
          meta: { title: "Close-up" },
        },
        {
          path: "studies",
          name: "studies",
          component: () => import("@/screens/StudiesScreen.vue"),
          meta: { title: "Studies" },
        },
        {
          path: "compare/:one(\\d+)/:other(\\d+)",
          name: "compare",
          component: () => import("@/screens/CompareScreen.vue"),
          meta: { title: "Compare" },
        },
        {
          path: "sheet",
          name: "sheet",
          component: () => import("@/screens/SheetScreen.vue"),
          meta: { title: "Palette sheet" },
        },
        {
          path: "reading",
          name: "reading",
          component: () => import("@/screens/ReadingScreen.vue"),
          meta: { title: "Reading" },
        },
        {
          path: "release",
          name: "release",
          component: () => import("@/screens/ReleaseScreen.vue"),
          meta: { title: "Release" },
        },
      ],
    },
    { path: "/:rest(.*)*", redirect: "/" },
  ],
});

router.beforeEach(async (to) => {
  const session = useSession();
  const slug = to.params.slug as string | undefined;
  // a browser without our token has not been here: nobody is signed in yet
  const mayBeIn = session.isKnown ? !!session.name : document.cookie.includes("csrftoken");
  if (slug && slug !== useSite().slug && mayBeIn) useStudy().fetchAhead(slug);
  if (!session.isKnown) await session.load();
  if (!to.meta.open && !session.name) return { name: "sign-in", query: { to: to.fullPath } };
  if (to.name === "sign-in" && session.name) return { name: "shelf" };
  return true;
});

router.afterEach((to) => {
  document.title = to.meta.title ? `${to.meta.title as string} · Glaucon` : "Glaucon";
});
