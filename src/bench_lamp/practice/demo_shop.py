"""The demo’s workshop: what it is on paper, and what lies in its drawers, with prices."""

from bench_lamp.shop.business import Business

#: What the made-up workshop is on paper.
SHOP = Business(
    name="Tidemill Lane Workshop",
    address="Tidemill Lane; Quillhaven",
    currency="€",
    rate=38.0,
    tax=0.2,
)
#: What lies in the shop's drawers and on its donor boards.
STOCK = (
    ("100 uF 350 V 105C 18x35 pitch 7.5 ripple 0.5 A esr 0.9", "drawer 12", 3, 4.2),
    ("47 uF 350 V 105C 16x31 pitch 7.5", "drawer 12", 4, 3.6),
    ("12000 uF 35 V 85C 35x50 pitch 10 ripple 5 A", "drawer 14", 2, 7.9),
    ("6800 uF 25 V 105C 25x45 pitch 10", "drawer 14", 1, 5.4),
    ("tantalum 100 uF 16 V", "drawer 5", 11, 2.1),
    ("tantalum 47 uF 16 V", "drawer 5", 20, 1.4),
    ("bridge 35 A 400 V", "drawer 20", 2, 6.5),
    ("10 A slow 250 V", "drawer 1", 8, 0.6),
    ("8 A fast 250 V", "drawer 1", 6, 0.7),
    ("type TR-405K TO-3 pins in out case", "donor board QH-099", 1, 9.0),
    ("type TD-122 TO-220 pins b c e", "drawer 31", 14, 1.9),
)
