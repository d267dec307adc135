"""The week page: gather, balance, agree, crew, and edits."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Query, Response

from nundine.api import schemas
from nundine.api.download import download
from nundine.api.http import Answerer, Areas, Crewer, DbRoute, Editor, Reader, Reopener, Reporter
from nundine.api.moments import Day
from nundine.api.shared import shared
from nundine.api.week.edits import made_by
from nundine.jobs.queue import hand_over
from nundine.services.access import EDIT, REPORT, may_know_why, require, require_in
from nundine.services.assets import windows
from nundine.services.errors import Refused
from nundine.services.ledger import commands, entries, undoing
from nundine.services.ledger.edits import Edit
from nundine.services.people import giving
from nundine.services.week import (
    agree,
    asks,
    closing,
    crew,
    edits,
    measures,
    mend,
    progress,
    proofs,
    review,
    tank,
    tidiness,
    why_not,
    workable,
)
from nundine.services.week.overview import Overview, TankFigures, overview
from nundine.services.week.state import WeekState, find_week, load_state
from nundine.services.work import backlog, planning_desk
from nundine.services.work.backlog_page import Asked, Page, backlog_page
from nundine.services.work.whole_job import WholeJob, whole_job
from nundine.store.account import Account

router = APIRouter(prefix="/api/weeks/{week}", tags=["week"], route_class=DbRoute)

Crafts = Annotated[list[str], Query(default_factory=list, max_length=200)]


@router.get("")
@shared
def the_week(week: str, _: Reader) -> Overview:
    state = load_state(week)
    hand_over(proofs.ask(state))
    return overview(state)


@router.get("/loose-ends")
@shared
def the_loose_ends(week: str, _: Reader) -> workable.LooseEnds:
    return workable.lists(load_state(week))


@router.get("/backlog")
def the_backlog(
    week: str,
    account: Reader,
    area: Areas,
    craft: Crafts,
    page: Annotated[int, Query(ge=1, le=100_000)] = 1,
    size: Annotated[int, Query(ge=1, le=200)] = 50,
    sort: str = "priority",
    down: bool = True,
    search: Annotated[str, Query(max_length=200)] = "",
    kind: str | None = None,
    ready: bool | None = None,
    placed: bool | None = None,
    must: bool | None = None,
    late: bool | None = None,
) -> Page:
    question = Asked(
        page, size, sort, down, search, tuple(area), tuple(craft), kind, ready, placed, must, late
    )
    return backlog_page(load_state(week), account, question)


@router.get("/planning-desk")
def the_desk(week: str, _: Reader) -> planning_desk.Desk:
    """Work asked for, being planned, ready and placed by craft, and the last twelve weeks."""
    return planning_desk.desk(load_state(week))


@router.get("/backlog/summary")
@shared
def the_summary(week: str, _: Reader, areas: Areas) -> backlog.BacklogSummary:
    return backlog.summary(load_state(week), areas)


@router.get("/jobs/{number:path}/why")
def the_reasons(week: str, number: str, _: Reader) -> why_not.Why:
    return why_not.why(load_state(week), number)


@router.get("/jobs/{number:path}")
def the_job(week: str, number: str, _: Reader) -> WholeJob:
    return whole_job(load_state(week), number)


@router.get("/tanks/{craft}/{day}")
@shared
def the_tank(week: str, craft: str, day: Day, _: Reader, areas: Areas) -> tank.TankDetail:
    return tank.detail(load_state(week), craft, day, areas)


@router.get("/agree")
@shared
def the_assets(week: str, _: Reader) -> agree.Agree:
    return agree.agree(load_state(week))


@router.get("/asks")
@shared
def the_asks(week: str, _: Reader) -> asks.Asks:
    return asks.listed(load_state(week))


@router.post("/asks")
def work_out_asks(week: str, account: Editor) -> asks.Asks:
    hand_over(asks.ask_for(load_state(week), account))
    return asks.listed(load_state(week))


@router.post("/mend")
def mend_preview(week: str, form: schemas.MendForm, _: Editor) -> mend.MendPreview:
    return mend.preview(load_state(week), form.put_in)


@router.get("/tidiness")
@shared
def the_tidiness(week: str, _: Reader) -> tidiness.Tidiness:
    return tidiness.told(load_state(week))


@router.post("/tidiness")
def try_prices(week: str, form: schemas.PricesForm, account: Editor) -> tidiness.Tidiness:
    hand_over(tidiness.ask_for(load_state(week), account, form.model_dump()))
    return tidiness.told(load_state(week))


@router.get("/crew")
@shared
def the_crew(week: str, account: Reader) -> crew.Crew:
    return crew.crew(load_state(week), may_know_why(account))


@router.get("/seats/{job:path}/{task}/{portion}/{seat}")
def who_can(week: str, job: str, task: str, portion: int, seat: int, _: Reader) -> list[crew.CandidateRow]:
    return crew.who_can(load_state(week), (job, task, portion), seat)


@router.post("/giving")
def what_giving_brings(week: str, form: schemas.GivingForm, _: Editor) -> giving.GivingPreview:
    chosen, to = giving.Chosen(form.jobs, form.keys), giving.Taker(form.person, form.crew)
    return giving.preview(load_state(week), chosen, to, form.despite)


@router.get("/review")
@shared
def the_review(week: str, _: Reader) -> measures.Review:
    return review.review(load_state(week))


@router.get("/review/compliance")
@shared
def the_compliance(week: str, _: Reader, areas: Areas) -> measures.Compliance:
    return review.compliance(load_state(week), areas)


@router.get("/review.csv", response_class=Response)
def the_review_as_table(week: str, _: Reader) -> Response:
    return download(review.review_csv(load_state(week)), "text/csv", f"{week}-review.csv")


@router.get("/closing")
@shared
def before_closing(week: str, _: Reader) -> closing.BeforeClosing:
    return closing.before(load_state(week))


@router.post("/closing")
def close_the_week(week: str, form: schemas.CloseForm, account: Editor) -> closing.Closed:
    return closing.close(find_week(week).name, account, form.why, form.into_next, form.early)


@router.post("/reopening")
def open_the_week_again(week: str, form: schemas.ReopenForm, account: Reopener) -> closing.Reopened:
    return closing.reopen(find_week(week).name, account, form.reason)


@router.get("/log", response_model=list[schemas.CommandShape])
def the_log(week: str, _: Reader) -> list[dict[str, Any]]:
    rows = entries.newest_of_week(find_week(week).name, 100)
    return [
        {
            "seq": e.seq,
            "at": e.at.isoformat(),
            "by": e.account.full_name if e.account_id else "Nundine",
            "label": e.label,
            "undone": undone,
        }
        for e, undone in rows
    ]


def _run(week: str, account: Account, make: Any, seen: int) -> dict[str, Any]:
    state = load_state(week)
    wanted: Edit = make(state)
    made = commands.run(state.week, account, wanted, seen)
    now = load_state(week)
    return {
        "label": made.label,
        "notes": list(wanted.notes),
        "arisen": workable.arisen(state, now),
        "week": overview(now),
    }


@router.post("/edits", response_model=schemas.Edited)
def edit(week: str, form: schemas.EditForm, account: Crewer) -> dict[str, Any]:
    e = form.edit
    swap = isinstance(e, schemas.GiveEdit | schemas.ExchangeEdit)
    if not swap:
        require(account, EDIT)
    if isinstance(e, schemas.UndoEdit):
        made = (undoing.undo if e.kind == "undo" else undoing.redo)(find_week(week), account)
        return {"label": made.label, "week": overview(load_state(week))}

    def make(state: WeekState) -> Edit:
        made = made_by(state, e)
        if swap:
            progress.may_swap(state, made, account)
        else:
            require_in(account, EDIT, edits.areas_touched(state, made))
        return made

    return _run(week, account, make, form.seen)


@router.post("/answers", response_model=schemas.Edited)
def answer(week: str, form: schemas.AnswerForm, account: Answerer) -> dict[str, Any]:
    def make(state: WeekState) -> Edit:
        job = state.problem.job_by_id.get(form.key[0])
        windows.may_speak_for(account, job.area if job else None)
        return edits.answer(state, form.key, form.said, account.full_name, form.remark)

    return _run(week, account, make, form.seen)


@router.post("/window-answers", response_model=schemas.Edited)
def answer_window(week: str, form: schemas.WindowAnswerForm, account: Answerer) -> dict[str, Any]:
    return _run(
        week,
        account,
        lambda _: windows.answer(account, form.asset, form.kind, form.start, form.said, form.remark),
        form.seen,
    )


def _window(state: WeekState, form: schemas.WindowForm, account: Account) -> Edit:
    if form.start is None or form.end is None:
        if form.was is None:
            raise Refused("window", "Say when the window begins and ends.", field="start")
        return windows.take_away(state, account, form.asset, form.kind, form.was)
    if form.was is None:
        return windows.draw(state, account, form.asset, form.kind, form.start, form.end)
    return windows.change(state, account, form.asset, form.kind, form.was, form.start, form.end)


@router.post("/windows", response_model=schemas.Edited)
def change_window(week: str, form: schemas.WindowForm, account: Answerer) -> dict[str, Any]:
    return _run(week, account, lambda state: _window(state, form, account), form.seen)


@router.post("/windows/hits")
def hits_of_window(week: str, form: schemas.WindowForm, account: Answerer) -> windows.WindowHits:
    state = load_state(week)
    return windows.hits(state, _window(state, form, account))


@router.get("/tanks")
@shared
def the_tanks_of_areas(week: str, _: Reader, areas: Areas) -> list[TankFigures]:
    return tank.of_areas(load_state(week), areas)


@router.post("/reports", response_model=schemas.Edited)
def report_several(week: str, form: schemas.ReportsForm, account: Reporter) -> dict[str, Any]:
    said = {
        (r.job, r.task): progress.Report(
            r.to,
            left=r.hours_left,
            reason=r.reason,
            ended=form.ended if r.to == "done" else None,
            along=form.along,
            hours_by=r.hours_by or None,
        )
        for r in form.rows
    }

    def make(state: WeekState) -> Edit:
        made = progress.report_each(state, said)
        require_in(account, REPORT, edits.areas_touched(state, made))
        return made

    return _run(week, account, make, form.seen)


@router.get("/load/crews")
@shared
def the_load_of_crews(week: str, _: Reader, areas: Areas) -> list[tank.LoadRow]:
    return tank.crews(load_state(week), areas)


@router.get("/load/people")
@shared
def the_load_of_people(week: str, _: Reader, areas: Areas) -> list[tank.LoadRow]:
    return tank.people(load_state(week), areas)


@router.post("/progress", response_model=schemas.Edited)
def report_progress(week: str, form: schemas.ProgressForm, account: Reporter) -> dict[str, Any]:
    who = tuple(form.who) if form.who is not None else None
    said = progress.Report(
        form.to, form.hours_spent, form.hours_left, form.reason, who, form.ended, form.along
    )

    def make(state: WeekState) -> Edit:
        made = progress.report(state, form.tasks, said)
        require_in(account, REPORT, edits.areas_touched(state, made))
        return made

    return _run(week, account, make, form.seen)
