import { csrfToken, OFFLINE, refusalOf, type Job } from "@/api/client";

type Tell = (share: number) => void;

/** Sends a new site's archive and tells how much of it has gone. */
export const uploadArchive = (archive: File, mostPages: number, tell: Tell) =>
  send("/api/bring/zip", archive, tell, { most_pages: String(mostPages) });

/** Sends the archive of a site that is there already. */
export const uploadAgain = (slug: string, archive: File, tell: Tell) =>
  send(`/api/sites/${encodeURIComponent(slug)}/again/zip`, archive, tell);

/** fetch cannot tell how much has gone, so this one call is older. */
function send(address: string, archive: File, tell: Tell, more: Record<string, string> = {}): Promise<Job> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", address);
    request.setRequestHeader("X-CSRFToken", csrfToken());
    request.responseType = "json";
    request.upload.onprogress = (event) => event.lengthComputable && tell(event.loaded / event.total);
    request.onerror = () => reject(OFFLINE);
    request.onload = () =>
      request.status === 200 ? resolve(request.response as Job) : reject(refusalOf(request.status, request.response));
    const form = new FormData();
    form.append("archive", archive);
    for (const [name, value] of Object.entries(more)) form.append(name, value);
    request.send(form);
  });
}
