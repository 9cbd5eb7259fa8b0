"""Devices: the line protocol, the stand-ins on a socket, the CSV of a logger."""

import os
import tty
from datetime import timedelta
from io import BytesIO
from threading import Thread

from django.test import SimpleTestCase, TransactionTestCase, override_settings
from django.utils import timezone

from pelk.core.curing.logger_csv import read_logger
from pelk.core.simulation.synthetic_heap import probed, truth_of
from pelk.cure.devices.adapter import DeviceError, LineDevice, parsed, read_at
from pelk.cure.devices.standins import DeviceServer, Pen, Scale
from pelk.cure.models import Reading
from pelk.shelf.services.materials import load_library
from tests.cure.test_cure import CureCase
from tests.factories import make_heap, make_user


class Wire(BytesIO):
    """A stream that answers what it was given, whatever is written: a serial port in a test."""

    def write(self, data):
        self.sent = data
        return len(data)


class Protocol(SimpleTestCase):
    def test_a_line_of_readings(self):
        got = parsed("OK PH 5.42 EC 0.71 T 14.2 NEW 1 BAT 87")
        self.assertEqual((got.ph, got.ec_ds_m, got.battery_pct), (5.42, 0.71, 87))
        self.assertFalse(got.is_weak)
        self.assertTrue(parsed("OK PH 5.42 BAT 9").is_weak)
        for line in ("PH 5.42", "OK PH", "OK PH high"):
            with self.assertRaises(DeviceError):
                parsed(line)

    def test_a_serial_port_is_read_like_a_socket(self):
        ours, theirs = os.openpty()
        tty.setraw(theirs)

        def answer():
            if os.read(ours, 100).startswith(b"READ"):
                os.write(ours, b"OK PH 5.42 EC 0.71 T 14.2 BAT 22\n")

        device = Thread(target=answer, daemon=True)
        device.start()
        try:
            reading = read_at(f"serial:{os.ttyname(theirs)}")
        finally:
            device.join(5)
            os.close(ours)
            os.close(theirs)
        self.assertEqual((reading.ph, reading.is_fading, reading.is_weak), (5.42, True, False))
        with self.assertRaisesMessage(DeviceError, "plugged in"):
            read_at("serial:/dev/no-such-port")

    def test_what_cannot_be_is_asked_about(self):
        for line in ("OK PH 54", "OK PH nan", "OK KG 500", "OK T 400", "OK EC -1"):
            with self.subTest(line), self.assertRaisesMessage(DeviceError, "which cannot be"):
                parsed(line)

    def test_the_adapter_serves_any_stream(self):
        self.assertEqual(LineDevice(Wire(b"OK KG 6.82 BAT 92\n")).read().kg, 6.82)
        for answer, said in ((b"ERR BATTERY\n", "battery"), (b"OK PH 5", "middle of a line")):
            with self.assertRaisesMessage(DeviceError, said):
                LineDevice(Wire(answer)).read()

    def test_a_tired_battery_makes_noise_and_a_dead_one_nothing(self):
        def spread(count):
            reads = [
                probed(5.5, 1.0, 14.0, count=count, days_since_check=0, seed=s).ph
                for s in range(200)
            ]
            return (sum((r - 5.5) ** 2 for r in reads) / 200) ** 0.5

        self.assertAlmostEqual(spread(1), 0.05, delta=0.01)
        self.assertAlmostEqual(spread(220), 0.20, delta=0.04)
        self.assertIsNone(probed(5.5, 1, 14, count=245, days_since_check=0, seed=1))
        drifted = probed(5.5, 1.0, 14.0, count=1, days_since_check=100, seed=3)
        fresh = probed(5.5, 1.0, 14.0, count=1, days_since_check=0, seed=3)
        self.assertAlmostEqual(drifted.ph - fresh.ph, 0.4, delta=0.011)
        self.assertEqual(truth_of(7), truth_of(7))
        self.assertNotEqual(truth_of(7), truth_of(8))


class Logger(SimpleTestCase):
    def test_it_reads_commas_semicolons_and_their_decimals(self):
        plain = read_logger("time,ph,Temperature (°C)\n2026-11-20 08:00,5.6,14.5\n")
        self.assertEqual((plain.rows[0].ph, plain.rows[0].temperature_c), (5.6, 14.5))
        text = "Date;pH;EC\n20.11.2026 08:00;5,6;0,7\n\n21.11.2026 08:00;;0,8"
        self.assertEqual([q.key for q in read_logger(text).questions], ["ec"])
        german = read_logger(text, {"ec": "ds/m"})
        self.assertEqual([r.ec_ds_m for r in german.rows], [0.7, 0.8])
        self.assertIsNone(german.rows[1].ph)

    def test_every_bad_line_is_named(self):
        got = read_logger(
            "time,ph\nnever,5.6\n2026-11-20 08:00,wet\n2026-11-20 08:00,99\n2026-11-20,"
        )
        self.assertEqual([line for line, _ in got.problems], [2, 3, 4, 5])
        self.assertIn("allowed: from 0 to 14", got.problems[2][1])
        self.assertEqual(read_logger("a,b\n1,2").problems[0][0], 1)
        self.assertEqual(read_logger("").problems[0][1], "The file is empty.")


class LoggerPage(CureCase):
    def test_shown_first_then_kept_whole(self):
        url = f"{self.url}logger/"
        at = timezone.localtime(timezone.now() - timedelta(days=2))
        good = f"time,ph\n{at:%Y-%m-%d %H:%M},6.0\n"
        bad = self.client.post(url, {"text": f"{good}2019-01-01 10:00,6.0", "action": "keep"})
        self.assertContains(bad, "Line 3: is not between mixing day and now")
        self.client.post(url, {"text": good, "action": "look"})
        self.assertFalse(Reading.objects.exists())
        self.client.post(url, {"text": good, "action": "keep"})
        row = Reading.objects.get()
        self.assertEqual(row.ph, 6.0)
        self.assertAlmostEqual((row.taken_at - at).total_seconds(), 0, delta=61)


class StandIns(TransactionTestCase):
    """On real sockets: the servers see what is committed."""

    def setUp(self):
        load_library()
        self.user = make_user()
        self.heap = make_heap(self.user)
        self.client.force_login(self.user)

    def serve(self, device):
        server = DeviceServer(device, 0)
        Thread(target=server.serve_forever, daemon=True).start()
        self.addCleanup(server.server_close)
        self.addCleanup(server.shutdown)
        return f"127.0.0.1:{server.server_address[1]}"

    def test_a_pen_measures_the_hidden_truth_into_the_form(self):
        address = self.serve(Pen(seed=1))
        first, again = (read_at(address, str(self.heap.pk)) for _ in range(2))
        self.assertAlmostEqual(first.ph, again.ph, delta=0.3)
        self.assertLess(again.battery_pct, 100.1)
        with override_settings(PELK_PEN=address):
            typed = {"device": "pen", "note": "half way down", "smell": "earthy"}
            page = self.client.post(f"/cure/{self.heap.pk}/pen/", typed, follow=True)
        sent = page.context["form"].initial
        self.assertEqual((sent["note"], sent["smell"]), ("half way down", "earthy"))
        self.assertAlmostEqual(float(sent["ph"]), first.ph, delta=0.3)
        self.assertContains(page, f'value="{sent["ph"]}"')
        with self.assertRaisesMessage(DeviceError, "is not in this heap"):
            read_at(address, "999")

    def test_a_scale_says_how_dry_it_is(self):
        address = self.serve(Scale(seed=1))
        with override_settings(PELK_SCALE=address):
            page = self.client.post(f"/cure/{self.heap.pk}/pen/", {"device": "scale"}, follow=True)
        sent = page.context["form"].initial
        self.assertEqual(sent["moisture"], "crumbles")  # three weeks without water
        self.assertIn("10 L weigh", sent["note"])

    def test_a_dead_battery_and_a_device_that_is_off_say_so(self):
        address = self.serve(Pen(seed=1, battery=0.02))
        for at, said in (
            (address, "battery of the device is dead"),
            ("127.0.0.1:9", "is the device on"),
        ):
            with override_settings(PELK_PEN=at):
                page = self.client.post(
                    f"/cure/{self.heap.pk}/pen/", {"device": "pen"}, follow=True
                )
            self.assertContains(page, said)
