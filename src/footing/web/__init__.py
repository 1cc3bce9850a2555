"""The web application: pages, JSON API, and who may see what.

- `app`: puts it together; `errors`: one place that turns an error into JSON or a page
- `security`: sign-in, and every decision about who may see what
- `pages`: HTML; `api`: JSON, frames and uploads
- `steps`: the steps of the workbench; `cards`: their HTML, by what each `reads` and the
  `card_states` that headings say; `news`: what a page is told
- `templates`, `static`: Jinja templates (fragments begin with an underscore), styles and scripts;
  `templating`; `static_files` as they go out; a lab's `instructions` in HTML; `phone_code` for a
  phone to scan
- `report_view`: a report for the page; `report_files`: as files
- `arriving`: a file that is the body of a request, `downloads` of files to be saved; `link_address`
  of links to look
- `live`: what happens elsewhere; `health` of the whole
- `guarding`, `protocol`: what every request passes; `routing` with a database connection; `answers`
- `workshop`: heavy work in processes of its own
"""
