"""Twelve sites nothing was built against: chosen before any was read, and never tuned for."""

from __future__ import annotations

from tests.oracle.corpus import RealSite

FRESH = (
    RealSite(
        "clean-blog-6", "journal theme on Bootstrap 5", "npm", "startbootstrap-clean-blog", "6.0.9",
        "sha512-xbbvk1j++rQjXajEju4TbEs862Fd5nGn/LWQIPIl0ColRSCQwO2uNLQe4u43nB5o4bXEg4IsI9QzfEpNM/kVcQ==",
        "package/dist", r".+\.html", 6,
    ),
    RealSite(
        "agency-7", "one-page agency theme", "npm", "startbootstrap-agency", "7.0.12",
        "sha512-VpdOVgqYq+Yomt72/gZueBuB99wWyqL1rvqaGaqRwHtDMJlXSf9eGfisyQXPx7//z3dnlGHIMzIk2I8CCmtXOQ==",
        "package/dist", r".+\.html", 6,
    ),
    RealSite(
        "creative-7", "one-page theme", "npm", "startbootstrap-creative", "7.0.7",
        "sha512-eBv64AUQJZbBbWBIADYqNDFAl/uvel2dFmnkF6ggWE0tw8jzpINZ04yX93/Rj/nWEQzC2UuMu4jLctjUEVUBcQ==",
        "package/dist", r".+\.html", 6,
    ),
    RealSite(
        "shop-homepage-5", "shop front", "npm", "startbootstrap-shop-homepage", "5.0.6",
        "sha512-B8TNIkJrc0iYCjrfgAolSopz1nek66gmhxkwCKP5zBX0axuF/OGae5z53bupgrlAOw1F4Cs6mkLVcw7K9G1exA==",
        "package/dist", r".+\.html", 6,
    ),
    RealSite(
        "freelancer-7", "one-page portfolio", "npm", "startbootstrap-freelancer", "7.0.7",
        "sha512-KdqOM+MdbFPwBugLvze3sKGW+XS3t4amtOCOupkGwdoc7CfI+89VwQy7adZgZj4u3cL6pY57XZGYmMCyVFAMLw==",
        "package/dist", r".+\.html", 6,
    ),
    RealSite(
        "material-kit-2", "marketing kit with a framework of its own", "npm", "material-kit", "2.0.4",
        "sha512-YtcRcqV0s7iByigCfcoHqtrUgXaicyYyZYikn6cdUuKdPdYvQplOUvUgvzmNTvDPcZXzLt8MUk9YfpWWOGISOQ==",
        "package", r"(?!node_modules|docs)[^/]+(/[^/]+)?\.html", 5,
    ),
    RealSite(
        "bamboo-css", "pages with one small stylesheet", "npm", "bamboo.css", "1.4.0",
        "sha512-6jiEzRZ0n1GfbLuw2Tf37cJd+lcYjFxl43VH78+sixMnKFG3YorlvC95kddqYtWeMK6zmBV4PrPEkwVf4vXwgw==",
        "package", r"demo/.+\.html", 6,
    ),
    RealSite(
        "landing-page-6", "landing page of one product", "npm", "startbootstrap-landing-page", "6.0.6",
        "sha512-fS0Z6kV1HDWba4S1YLP+oKkqLkOUFx9FGsCx7W/svXqxilqzjw6gz6LLY22ZNr0UH0tAI5y6S5e2iad0Ux2DZA==",
        "package/dist", r".+\.html", 6,
    ),
    RealSite(
        "spectre-docs", "a framework's own pages", "npm", "spectre.css", "0.5.9",
        "sha512-9jUqwZmCnvflrxFGcK+ize43TvjwDjqMwZPVubEtSIHzvinH0TBUESm1LcOJx3Ur7bdPaeOHQIjOqBl1Y5kLFw==",
        "package/docs", r".+\.html", 6,
    ),
    RealSite(
        "flask-doc", "documentation of a web library", "debian", "python-flask-doc", "2.2.2-3",
        "0659f6a04b15fe3f907150cadc0399fe987c790e722e001b73f7e49fa5ecca15",
        "usr/share/doc/python-flask-doc/html", r".+\.html", 6,
    ),
    RealSite(
        "requests-doc", "documentation of an HTTP library", "debian", "python-requests-doc", "2.28.1+dfsg-1",
        "499f6c095d09971ec3aa7b7ff5197eaf999476ce3ee61edfccac64fe3f9e520f",
        "usr/share/doc/python-requests-doc/html", r".+\.html", 6,
    ),
    RealSite(
        "sqlite3-doc", "a database's own site", "debian", "sqlite3-doc", "3.40.1-2+deb12u2",
        "466e30d7066e2641fa13e56bc662a2ad521b8cc9c17dde9c9dac3d4f105e32f2",
        "usr/share/doc/sqlite3", r".+\.html", 6,
    ),
)  # fmt: skip
