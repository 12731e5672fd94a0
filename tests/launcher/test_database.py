"""The private database: a user that serves and an owner, and a place of its own for temporary tables."""

import subprocess

import pytest

from launcher.database import NAME, OWNER, USER, PrivateDatabase, secret
from launcher.serving import as_owner, running


@pytest.fixture(scope="module")
def database(tmp_path_factory):
    with running(PrivateDatabase(tmp_path_factory.mktemp("database"), throw_away=True)) as one:
        yield one


def ask(database, user, sql):
    """The server's answer to one statement, as this user."""
    word = secret(database.home / f"{user}-password")
    command = ["mariadb", "--no-defaults", "--host=127.0.0.1", f"--port={database.port}"]
    command += [f"--user={user}", f"--password={word}", NAME, "--batch", "--skip-column-names"]
    return subprocess.run(command, input=sql, capture_output=True, text=True)


def test_the_owner_makes_tables_and_the_serving_user_only_rows(database):
    assert ask(database, OWNER, "CREATE TABLE fact (n INT); ").returncode == 0
    assert ask(database, USER, "INSERT INTO fact VALUES (1); ").returncode == 0
    assert ask(database, USER, "SELECT n FROM fact;").stdout.strip() == "1"


@pytest.mark.parametrize(
    "sql",
    [
        "CREATE TABLE other (n INT);",
        "ALTER TABLE fact ADD m INT;",
        "DROP TABLE fact;",
        "TRUNCATE fact;",
        "CREATE TRIGGER t BEFORE DELETE ON fact FOR EACH ROW SET @x = 1;",
        "CREATE USER visitor;",
    ],
)
def test_the_serving_user_cannot_change_the_schema(database, sql):
    ask(database, OWNER, "CREATE TABLE IF NOT EXISTS fact (n INT);")
    refused = ask(database, USER, sql)
    assert refused.returncode != 0 and "denied" in refused.stderr


def test_temporary_tables_are_not_in_the_systems_directory(database):
    place = ask(database, USER, "SELECT @@tmpdir;").stdout.strip()
    assert place == str(database.run / "tmp")


def test_the_two_addresses_differ_in_user_and_password(database):
    assert database.url != database.owner_url
    assert f"//{USER}:" in database.url and f"//{OWNER}:" in database.owner_url
    assert secret(database.home / f"{USER}-password") not in database.owner_url


def test_migrations_run_as_the_owner(database):
    variables = {"FENNOCK_DATABASE_URL": database.url, "OTHER": "kept"}
    changed = as_owner(variables, database)
    assert changed == {"FENNOCK_DATABASE_URL": database.owner_url, "OTHER": "kept"}
    assert variables["FENNOCK_DATABASE_URL"] == database.url
