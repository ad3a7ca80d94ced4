"""Words of the log, found by any part of them: kept beside the table by its own triggers."""

from django.db import migrations

MAKE = """
CREATE VIRTUAL TABLE log_words USING fts5(
    words, content='workbench_logentry', content_rowid='id', tokenize='trigram'
);
"""
ADDED = """
CREATE TRIGGER log_words_added AFTER INSERT ON workbench_logentry BEGIN
    INSERT INTO log_words(rowid, words) VALUES (new.id, new.words);
END;
"""
GONE = """
CREATE TRIGGER log_words_gone AFTER DELETE ON workbench_logentry BEGIN
    INSERT INTO log_words(log_words, rowid, words) VALUES ('delete', old.id, old.words);
END;
"""
DROP = """
DROP TRIGGER IF EXISTS log_words_added;
DROP TRIGGER IF EXISTS log_words_gone;
DROP TABLE IF EXISTS log_words;
"""


class Migration(migrations.Migration):
    dependencies = [("workbench", "0007_bench_records")]

    operations = [
        migrations.RunSQL([MAKE, ADDED, GONE], DROP.strip().split(";\n")),
    ]
