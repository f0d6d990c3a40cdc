"""A general RTSP server with Digest login, kept by others: run by the system's own Python, which has its bindings."""

import sys

import gi  # type: ignore[import-not-found]

gi.require_version("GstRtspServer", "1.0")
from gi.repository import GLib, Gst, GstRtsp, GstRtspServer  # type: ignore[import-not-found] # noqa: E402

Gst.init(None)
server = GstRtspServer.RTSPServer()
server.set_address("127.0.0.1")
server.set_service(sys.argv[1])
login = GstRtspServer.RTSPAuth()
login.set_supported_methods(GstRtsp.RTSPAuthMethod.DIGEST)
token = GstRtspServer.RTSPToken()
token.set_string("media.factory.role", "viewer")
login.add_digest("viewer", "heron at 5", token)
server.set_auth(login)
media = GstRtspServer.RTSPMediaFactory()
media.set_launch(
    "( videotestsrc is-live=true ! video/x-raw,width=640,height=360,framerate=12/1 "
    "! x264enc tune=zerolatency ! rtph264pay name=pay0 pt=96 )"
)
roles = Gst.Structure.new_empty("viewer")
roles.set_value("media.factory.access", True)
roles.set_value("media.factory.construct", True)
permissions = GstRtspServer.RTSPPermissions()
permissions.add_role_from_structure(roles)
media.set_permissions(permissions)
server.get_mount_points().add_factory("/live/1", media)
server.attach(None)
print("ready", flush=True)
GLib.MainLoop().run()
