"""A process that does background work."""

from footing.databases import joined_database
from footing.logs import write_log
from footing.settings import Settings
from footing.store.arrivals import not_surveyed
from footing.store.database import connected


def run_worker(settings: Settings) -> None:
    """Do background work until interrupted; first what should have been done since long.

    Raises
    ------
    Refused : if no Footing runs with this data.
    """
    write_log(settings.data / "log", "worker")
    with joined_database(settings) as url:
        # what can be done takes seconds to load, and is no use where no Footing runs
        from footing.jobs.queue import open_queue, work

        with open_queue(url) as queue, connected():
            queue.ask("tidy_up", once="tidy up")
            for content in not_surveyed():
                queue.ask("look_through", once=content, content=content)
        work(url, settings)
