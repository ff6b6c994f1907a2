"""Culls a folder by script: frames that no other of their group is better than are picked, what
can't be used is rejected, and the picks are copied to another folder.

    export $(winnow token)
    python cull.py FOLDER TARGET

Winnow must be running, for example by "winnow serve". Whatever this does can be undone on its page.
"""

import json
import os
import sys
import time
import urllib.error
import urllib.request

URL, TOKEN = os.environ["WINNOW_URL"], os.environ["WINNOW_TOKEN"]


def ask(method: str, path: str, body: object = None) -> dict:
    """Ask Winnow; what it refuses ends the script, with the reason in words."""
    request = urllib.request.Request(URL + path, method=method)
    request.add_header("Authorization", f"Bearer {TOKEN}")
    request.add_header("Content-Type", "application/json")
    try:
        data = None if body is None else json.dumps(body).encode()
        with urllib.request.urlopen(request, data) as answer:
            return json.load(answer)
    except urllib.error.HTTPError as error:
        sys.exit(json.load(error)["detail"])


folder, target = (os.path.abspath(path) for path in sys.argv[1:])
shoot = f"/shoots/{ask('POST', '/shoots', {'folders': [folder]})['id']}"

# Pictures, faces, groups and verdicts are made behind.
while True:
    now, hints = ask("GET", shoot), ask("GET", f"{shoot}/hints")
    if not now["status"]["running"] and not hints["waits"]:
        break
    print(f"{now['tally']['done']} of {now['tally']['frames']} frames are looked at")
    time.sleep(1)

# Column by column, from best to worst within each group; frames alone in a group have no verdict.
verdicts = hints["verdicts"]
judged = list(zip(verdicts["frame"], verdicts["place"], verdicts["usable"], strict=True))
best = [frame for frame, place, usable in judged if usable and place == 1]
unusable = [frame for frame, _, usable in judged if not usable]
for frames, decision in ((best, "pick"), (unusable, "reject")):
    if frames:
        print(ask("POST", f"{shoot}/marks", {"frames": frames, "decision": decision})["sentence"])

if best:
    delivery = ask("POST", f"{shoot}/deliveries", {"target": target})["id"]
    while True:
        deliveries = ask("GET", f"{shoot}/deliveries")
        it = next(one for one in deliveries if one["id"] == delivery)
        if it["state"] not in ("planned", "running"):
            break
        time.sleep(0.2)
    print(f"{it['done']} of {it['files']} files copied to {target} {it['notice']}".strip())
