"""The web application: pages, JSON API, and who may see what.

- `app`: puts it together; `errors`: one place that turns an error into JSON or a page
- `security`: sign-in, and every decision about who may see what
- `pages`: HTML; `api`: JSON, frames and uploads
- `templates`, `static`: Jinja templates (fragments begin with an underscore), styles and scripts
"""
