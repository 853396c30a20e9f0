"""The search for a design: asked, watched, stopped."""

from fastapi import APIRouter, Request
from fastapi.responses import JSONResponse, Response

from adze.core.advice.search import Wishes
from adze.services.judging import searches
from adze.store.judging.searches import SearchRow
from adze.web.access import Db, EditPlan, ReadPlan, jobs_of
from adze.web.workbench import JsonBody

router = APIRouter()


class Search(JsonBody):
    """What is fixed while Adze looks for the rest."""

    wishes: Wishes = Wishes()


def _told(found: SearchRow) -> JSONResponse:
    return JSONResponse({"id": found.id, "state": found.state, **found.told})


@router.post("/api/plans/{plan_id}/searches", name="ask_search")
def ask_search(request: Request, begin_transaction: Db, opened: EditPlan, body: Search) -> Response:
    """Search the cheapest design that holds; one that was asked before is found again."""
    return _told(searches.ask(begin_transaction, jobs_of(request), opened, body.wishes))


@router.get("/api/plans/{plan_id}/searches/{search_id}", name="search_told")
def search_told(begin_transaction: Db, opened: ReadPlan, search_id: int) -> Response:
    """How far a search is, and the best so far."""
    return _told(searches.told(begin_transaction, opened, search_id))


@router.post("/api/plans/{plan_id}/searches/{search_id}/stop", name="stop_search")
def stop_search(begin_transaction: Db, opened: EditPlan, search_id: int) -> Response:
    """No further."""
    searches.stop(begin_transaction, opened, search_id)
    return _told(searches.told(begin_transaction, opened, search_id))
