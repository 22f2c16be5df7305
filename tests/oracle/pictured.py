"""Twelve sites that are mostly pictures, gradients and positioned parts: chosen before any was read."""

from __future__ import annotations

from tests.oracle.corpus import RealSite

_PAGES = r"(?!node_modules|docs|documentation).+\.html"

PICTURED = (
    RealSite(
        "grayscale-7", "one-page theme under a picture header", "npm", "startbootstrap-grayscale", "7.0.6",
        "sha512-E1bKuLgDPQmPase6PYsgLgsuCagZKYBd80H4okhR6/a3JW83nWJkMgG4WZ+db9RrNHxmVMCLxt40CBCd9Yd25A==",
        "package/dist", _PAGES, 4,
    ),
    RealSite(
        "stylish-portfolio-6", "one-page portfolio on pictures", "npm", "startbootstrap-stylish-portfolio", "6.0.6",
        "sha512-SMYUvwVUme015DgN8iG0M3FJ1Zj2xknNDo92JX5yZaNM782Dk3pYWaoP8Ofy7LLeE/1dOOZ3/mf8PjcOBPRG8Q==",
        "package/dist", _PAGES, 4,
    ),
    RealSite(
        "new-age-6", "landing page on gradients", "npm", "startbootstrap-new-age", "6.0.7",
        "sha512-8ILdEWuNI1oBzyBtG/S11YGWZDsLxy/v/xtiK4k7swfweU6wky++Uu1PIkUvVr3INKlnqa27Z3ww4R7h0hU4Cw==",
        "package/dist", _PAGES, 4,
    ),
    RealSite(
        "coming-soon-6", "one screen over a moving picture", "npm", "startbootstrap-coming-soon", "6.0.7",
        "sha512-iXNbkdMCpmgzByZSXAzBzMXQbsGW4b1mOAmg6cJbG+K8fw9xcUXxal1Hqg8xS7yXGg2gthBb7HizgxGtMtckLw==",
        "package/dist", _PAGES, 4,
    ),
    RealSite(
        "full-width-pics-5", "pictures from edge to edge", "npm", "startbootstrap-full-width-pics", "5.0.6",
        "sha512-elMMyzVPQ9RhaTnrXRGqWYCdj3CIfX2lSEIed7UEQOJuvre/0Ac0SAwB+0KME9bIPF7pviAS/D90rjMSXzsr5w==",
        "package/dist", _PAGES, 4,
    ),
    RealSite(
        "one-page-wonder-6", "gradient header with shapes", "npm", "startbootstrap-one-page-wonder", "6.0.6",
        "sha512-6zN0k4WihrSyZ8IZA2cNQFQ8V584iYbjkGSW7WA6Tf5RluMI5S1hEJwc6Oh0Lp6rgoST+sIVPI0GUIXuwNRq/w==",
        "package/dist", _PAGES, 4,
    ),
    RealSite(
        "business-casual-7", "text boxes over one picture", "npm", "startbootstrap-business-casual", "7.0.9",
        "sha512-F9dZMOLQc9aGcaAtD8KgzAEWknoH89FS0Da67fMECUVLY6GHFCZUjaypGsI9bVmJBdLqFLrewn8IQzTdMOGF9A==",
        "package/dist", _PAGES, 4,
    ),
    RealSite(
        "paper-kit-2", "kit with picture headers and cards", "npm", "paper-kit-2", "2.1.0",
        "sha512-IRlEBivZes8PhGWWYQDSn5Z20xIXC+20q5JLkKLG9N40ZmHsKgDBJ8dq7P7SEw+dBAVKQ6GrRvXnDYJiT5YBNQ==",
        "package", _PAGES, 4,
    ),
    RealSite(
        "now-ui-kit", "kit with filtered picture headers", "npm", "now-ui-kit", "1.3.0",
        "sha512-lANWkphIZDtAmhS92S4EVXCiz1Eez1Hh8t9lRdMEPrekxJ29TAN+gFOCXe6W24gqifhAnME/Vt7nUsdqVRhqdw==",
        "package", _PAGES, 4,
    ),
    RealSite(
        "argon-design", "kit with shapes and gradients", "npm", "argon-design-system-free", "1.2.0",
        "sha512-aMNzLhI9PYfXwCVGAf9DHgbQDO8ouK+OZbFsiinvB1tgeuoymP+WykVOzwMspYeMTAr+dLksm+5BwzwADQs1BA==",
        "package", _PAGES, 4,
    ),
    RealSite(
        "blk-design", "dark kit on pictures", "npm", "blk-design-system", "1.0.2",
        "sha512-vhqb6s4qbPh/AXsd1vNwRMKvLToH/K3l+BK8RC6h1Lkn50kg8494NM+NDQr+F8q8LSwwHklBOChQLFjNf9k0eQ==",
        "package", _PAGES, 4,
    ),
    RealSite(
        "soft-ui-design", "kit with gradient cards and masks", "npm", "soft-ui-design-system", "1.0.4",
        "sha512-tX86rDIsaW2CscpCEolbqvYMpjZOSHGoTZLFRAV+8HJpYEdbNjeS8BsAUhhs8qDlRnbmCykolVgQqKnKlcfLEQ==",
        "package", _PAGES, 4,
    ),
)  # fmt: skip
