"""Parts of the workbench as tests reach for them."""


def value(page, link):
    return page.locator(f"#link-{link} .link-value")


def row(page, name):
    return page.locator("#rows .branch", has_text=name)


def open_link(page, link):
    page.locator(f"#link-{link} > summary").click()
