"""What each stage shows, put together from the core's answers, a module a stage. Nothing is decided here."""

from tutelar.server.sites.sheets.addresses import addresses, move_preview, renumber_preview, sightings
from tutelar.server.sites.sheets.bench import bench, phone_ways, rehearsal
from tutelar.server.sites.sheets.device import device_page
from tutelar.server.sites.sheets.kit import catalogue, kit, profile
from tutelar.server.sites.sheets.link_card import link_card, link_numbers
from tutelar.server.sites.sheets.links import links, proposal
from tutelar.server.sites.sheets.logbook import logbook, site_zone
from tutelar.server.sites.sheets.pretend import pretend
from tutelar.server.sites.sheets.proof import evidence, proof, proof_run, rules
from tutelar.server.sites.sheets.settings import choices, clocks, ports, secrets
from tutelar.server.sites.sheets.survey import follow_rows, survey
from tutelar.server.sites.sheets.whole import events, frame, sites

__all__ = [
    "addresses",
    "bench",
    "catalogue",
    "choices",
    "clocks",
    "device_page",
    "events",
    "evidence",
    "follow_rows",
    "frame",
    "kit",
    "link_card",
    "link_numbers",
    "links",
    "logbook",
    "move_preview",
    "phone_ways",
    "ports",
    "pretend",
    "profile",
    "proof",
    "proof_run",
    "proposal",
    "rehearsal",
    "renumber_preview",
    "rules",
    "secrets",
    "sightings",
    "site_zone",
    "sites",
    "survey",
]
