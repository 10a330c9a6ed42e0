"""People in two workspaces, and a client for each."""

import pytest
from django.core.cache import cache
from django.db import connection
from rest_framework.test import APIClient

from crew.models import Membership, Person, Role, Workspace
from tests.server.asking import Trial

TABLE = """Block,Plot,Cover,Yield (t/ha),Weeds
A,1,Bare,40.1,55
A,2,Oat,42.3,31
A,3,Vetch,44.0,44
B,4,Oat,43.6,29
B,5,Vetch,45.1,38
B,6,Bare,41.2,61
C,7,Vetch,44.9,40
C,8,Bare,40.3,48
C,9,Oat,42.9,27
D,10,Bare,41.8,57
D,11,Vetch,46.2,41
D,12,Oat,43.1,33
"""


@pytest.fixture(autouse=True)
def _own_uploads(settings, tmp_path):
    settings.MEDIA_ROOT = tmp_path / "uploads"
    settings.WHITENOISE_AUTOREFRESH = True  # the static files are found when asked for, not listed for each client
    cache.clear()


@pytest.fixture
def empty_queue(transactional_db):
    """No job waits that another test left: the queue's own tables aren't emptied with the others."""
    with connection.cursor() as cursor:
        cursor.execute("TRUNCATE procrastinate_jobs CASCADE")


@pytest.fixture
def workspace(db):
    return Workspace.objects.create(name="Fen trials")


@pytest.fixture
def people(workspace):
    """Role → person of the workspace, and `stranger` of another one."""
    found = {}
    for role in Role.values:
        found[role] = Person.objects.create_person(f"{role}@fen.example", role.title(), None)
        Membership.objects.create(person=found[role], workspace=workspace, role=role)
    other = Workspace.objects.create(name="Elsewhere")
    found["stranger"] = Person.objects.create_person("stranger@elsewhere.example", "Stranger", None)
    Membership.objects.create(person=found["stranger"], workspace=other, role=Role.OWNER)
    return found


@pytest.fixture
def client_of(people):
    def client(who):
        """Saves over whatever stands there, unless a test names a version (test_etags does)."""
        made = APIClient(HTTP_IF_MATCH="*")
        if who != "nobody":
            made.force_login(people[who], backend="django.contrib.auth.backends.ModelBackend")
        return made

    return client


@pytest.fixture
def owner(client_of):
    return client_of("owner")


@pytest.fixture
def trial(owner, workspace):
    """Asked, planned and given a visit; files whose tests need another have their own."""
    return Trial(owner, workspace)
