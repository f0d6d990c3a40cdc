"""A label is read with the camera: a film of a QR code is what the browser sees."""

from pathlib import Path

from playwright.sync_api import expect
from reportlab.graphics.barcode.qr import QrCodeWidget

from tests.browser.base import Browsing
from tests.browser.driving import Visit, filmed, launch

SIDE = 480


def film_of(text: str, path: Path) -> None:
    """Write a film of one still code: YUV4MPEG2, black on white."""
    widget = QrCodeWidget(text)
    widget.qr.make()
    count = widget.qr.getModuleCount()
    dot = SIDE // (count + 8)
    start = (SIDE - dot * count) // 2
    luma = bytearray(b"\xeb" * SIDE * SIDE)
    for row in range(count):
        for column in range(count):
            if widget.qr.isDark(row, column):
                for line in range(dot):
                    at = (start + row * dot + line) * SIDE + start + column * dot
                    luma[at : at + dot] = b"\x10" * dot
    frame = b"FRAME\n" + bytes(luma) + b"\x80" * (SIDE * SIDE // 2)
    path.write_bytes(f"YUV4MPEG2 W{SIDE} H{SIDE} F10:1 Ip A1:1 C420jpeg\n".encode() + frame * 3)


class Camera(Browsing):
    def test_a_code_in_front_of_the_camera_fills_the_device_in_hand(self) -> None:
        key = self.ready("filmed")
        film = self.folder / "label.y4m"
        film_of("SN:LK4-7788 MAC:021A4B0077AA", film)
        with launch(self.playwright, filmed(film)) as browser:
            visit = Visit.start(browser, self.server)
            page = visit.go(f"/sites/{key}/kit")
            add = page.get_by_role("form", name="Write down a device")
            add.get_by_label("Name").fill("Lamp post")
            add.get_by_role("button", name="Add it").click()
            page.get_by_role("button", name="Read labels").click()
            dialog = page.get_by_role("dialog")
            expect(dialog).to_contain_text("Lamp post")
            dialog.get_by_role("button", name="Use the camera").click()
            expect(dialog).to_contain_text("All labels are scanned")
            expect(dialog).to_contain_text("02:1a:4b:00:77:aa")
