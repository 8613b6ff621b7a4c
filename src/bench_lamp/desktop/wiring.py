"""Which signal of the window goes to which thread, and back."""

from typing import TYPE_CHECKING

from bench_lamp.desktop.journal_client import JournalClient
from bench_lamp.desktop.workers.loader import JournalLoader
from bench_lamp.desktop.workers.search import SearchWorker
from bench_lamp.desktop.workers.store import StoreWorker

if TYPE_CHECKING:
    from bench_lamp.desktop.keeping import Keeping
    from bench_lamp.desktop.session import Session
    from bench_lamp.desktop.sharing import Sharing
    from bench_lamp.desktop.workers.sharing import SharingWorker


def wire_journal(journal: JournalClient, worker: StoreWorker, loader: JournalLoader) -> None:
    """Let the journal be opened, read and checked by its threads."""
    worker.opened.connect(journal.on_opened)
    worker.appended.connect(journal.on_appended)
    worker.refused.connect(journal.on_refused)
    worker.salvaged.connect(journal.on_salvaged)
    journal.open_requested.connect(worker.open)
    journal.salvage_requested.connect(worker.salvage)
    journal.load_requested.connect(loader.load)
    loader.read.connect(journal.on_read)
    loader.shortened.connect(journal.on_shortened)
    loader.made.connect(worker.keep_shorts)
    loader.checked.connect(journal.on_checked)
    loader.failed.connect(journal.on_unread)
    loader.done.connect(journal.on_done)


def wire_keeping(keeping: "Keeping", worker: StoreWorker, journal: JournalClient) -> None:
    """Let backups and other benches' events go through the store's thread."""
    keeping.backup_requested.connect(worker.back_up)
    keeping.look_requested.connect(worker.look)
    keeping.take_requested.connect(worker.take_in)
    keeping.restore_requested.connect(worker.restore)
    worker.looked.connect(keeping.on_looked)
    worker.taken.connect(keeping.on_taken)
    worker.told.connect(keeping.on_told)
    worker.restored.connect(journal.on_restored)


def wire_sharing(
    sharing: "Sharing", worker: "SharingWorker", writer: StoreWorker, session: "Session"
) -> None:
    """Let events go to the shop's server and come from there; the journal's one writer keeps them."""
    sharing.join_requested.connect(worker.join)
    sharing.open_requested.connect(worker.open_here)
    session.sharing_said.connect(sharing.say)
    worker.joined.connect(sharing.on_joined)
    worker.lost.connect(sharing.on_lost)
    worker.held.connect(sharing.on_held)
    worker.sent.connect(writer.mark_sent)
    worker.came.connect(writer.receive)
    writer.appended.connect(worker.look)
    writer.shared.connect(sharing.on_taken)
    writer.shared_kept.connect(worker.on_kept)


def wire_search(session: "Session", worker: SearchWorker, writer: StoreWorker) -> None:
    """Let the journal be searched by the search's thread; its index is the writer's."""
    worker.damaged.connect(writer.index_anew)
    session.want_words = lambda words: setattr(worker, "wanted", words)
    session.search_requested.connect(worker.find)
    worker.answered.connect(session.said_found)
