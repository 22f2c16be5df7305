import { useThrottleFn } from "@vueuse/core";
import { computed, ref, shallowRef, watch } from "vue";
import client, { ask, type Finding, type Schemas, sentence } from "@/api/client";
import { paint } from "@/logic/acts";
import { contrastOf } from "@/logic/ladder";
import { useSite } from "@/stores/site";
import { useStudy } from "@/stores/study";

export type Lane = Schemas["LaneOut"];
/** A text colour on a lane as it is shown at this moment. */
export interface Standing {
  of: Finding;
  colour: string;
  ground: string;
  ratio: number | null;
  verdict: string;
  /** Whether its role's colour is what is seen. */
  isOwn: boolean;
}

const READ_EVERY = 300; // ms, while a hand moves a colour

/** The ladder of the open study; what a hand moves stands where it would at once, and is read again after. */
export function useLadder() {
  const site = useSite();
  const study = useStudy();
  const ladder = shallowRef<Schemas["LadderOut"] | null>(null);
  const trouble = ref("");
  /** Roles' colours as the ladder was read with them: what has just these is shown by the role's colour. */
  let readWith = new Map<string, string>();
  let isAsked = false;
  let isWanted = false;

  async function read(): Promise<void> {
    isWanted = true;
    if (isAsked) return;
    isAsked = true;
    try {
      while (isWanted && study.revision) {
        isWanted = false;
        const own = new Map(study.roles.map((role) => [role.id, study.colourOf(role.id)]));
        const body = { base: study.revision.base, acts: paint(study.draft) };
        ladder.value = await ask(
          client.POST("/api/sites/{slug}/ladder", { params: { path: { slug: site.slug } }, body }),
        );
        readWith = own;
        trouble.value = "";
      }
    } catch (refusal) {
      trouble.value = sentence(refusal);
    } finally {
      isAsked = false;
    }
  }
  const follow = useThrottleFn(read, READ_EVERY, true);
  watch(() => study.revision, read, { immediate: true });
  watch(
    () => study.draft,
    (draft) => Object.keys(draft).length && void follow(),
  );

  const isShownAsIs = (side: Finding["text"]) => !!side.role && readWith.get(side.role) === side.colour;
  const shownOf = (side: Finding["text"]): string => (isShownAsIs(side) ? study.colourOf(side.role!) : side.colour);

  function standing(of: Finding): Standing {
    const [colour, ground] = [shownOf(of.text), of.on ? of.background.colour : shownOf(of.background)];
    const isOwn = isShownAsIs(of.text);
    const isMoved = colour !== of.text.colour || ground !== of.background.colour;
    if (!isMoved || of.ratio === null || !colour || !ground)
      return { of, colour, ground, ratio: of.ratio, verdict: of.verdict, isOwn };
    const ratio = contrastOf(colour, ground);
    return { of, colour, ground, ratio, verdict: ratio < (of.required ?? 0) ? "fail" : "pass", isOwn };
  }
  const lanes = computed(() =>
    (ladder.value?.lanes ?? []).map((lane) => ({
      lane,
      colour:
        lane.ground === "solid" && lane.role
          ? shownOf({ role: lane.role, label: "", colour: lane.colour })
          : lane.colour,
      standing: lane.standing.map(standing),
    })),
  );
  return { ladder, lanes, trouble, read };
}
