import { csrfToken, OFFLINE, refusalOf, type Job } from "@/api/client";

/** Sends an archive and tells how much of it has gone. fetch cannot tell that, so this one call is older. */
export function uploadArchive(archive: File, name: string, tell: (share: number) => void): Promise<Job> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", "/api/bring/zip");
    request.setRequestHeader("X-CSRFToken", csrfToken());
    request.responseType = "json";
    request.upload.onprogress = (event) => event.lengthComputable && tell(event.loaded / event.total);
    request.onerror = () => reject(OFFLINE);
    request.onload = () =>
      request.status === 200 ? resolve(request.response as Job) : reject(refusalOf(request.status, request.response));
    const form = new FormData();
    form.append("archive", archive);
    form.append("name", name);
    request.send(form);
  });
}
