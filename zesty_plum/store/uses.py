"""When slots were last used, as far as outings and notes say."""

import sqlite3
from collections.abc import Mapping

from .plans import Put


def last(db: sqlite3.Connection, case: int, puts: Mapping[str, Put], today: str) -> dict[str, str]:
    """The latest day, as YYYY-MM-DD, on which each slot of a camera was on a shoot or its slip in a
    trial with that camera; slots of which neither says anything are left out."""
    shoots = db.execute(
        "SELECT json_extract(said, '$.slot') AS slot, max(date) AS day "
        "FROM (SELECT shoot.said, outing.date FROM outing_shoot AS shoot "
        "JOIN outing ON outing.id = shoot.outing WHERE outing.deleted_at IS NULL "
        "AND shoot.removed_at IS NULL AND outing.date <= ? AND outing.date GLOB '[12]???-??-??' "
        "AND json_valid(shoot.said)) "
        "WHERE json_extract(said, '$.case') = ? GROUP BY slot",
        (today[:10], case),
    )
    out = {row["slot"]: row["day"] for row in shoots if row["slot"]}
    trials = db.execute(
        "SELECT slip, max(made_at) AS day FROM trial "
        "WHERE deleted_at IS NULL AND case_id = ? AND made_at GLOB '[12]???-??-??T*' "
        "GROUP BY slip",
        (case,),
    )
    tried = {row["slip"]: row["day"][:10] for row in trials}
    for key, put in puts.items():
        if put.slip in tried:
            out[key] = max(out.get(key, ""), tried[put.slip])
    return out
