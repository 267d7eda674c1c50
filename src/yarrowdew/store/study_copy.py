"""A study copied record by record, within the database and to the last bit."""

from __future__ import annotations

from typing import Any

from sqlalchemy import insert, literal, select
from sqlalchemy.orm import Session

from yarrowdew.store.models import (
    ColumnRow,
    FigureRow,
    PlateRow,
    StudyRow,
    TableRow,
    VersionRow,
    new_id,
)


def copied_study(session: Session, study: StudyRow, name: str) -> StudyRow:
    """Copy a study within a transaction.

    Documents are copied as they are stored, but for the ids by which they speak of tables and
    figures: also those that this version cannot read.
    """
    copy = StudyRow(
        name=name,
        categories=study.categories,
        looks=study.looks,
        formulas=study.formulas,
        filters=[],
    )
    session.add(copy)
    session.flush()
    tables = {table.id: _table(session, table, copy) for table in study.tables}
    copy.filters = [
        {**f, "table": tables[f["table"]]}
        for f in study.filters
        if isinstance(f, dict) and f.get("table") in tables
    ]
    figures: dict[str, str] = {}
    for figure in study.figures:
        document = dict(figure.document)
        document["table"] = tables.get(document.get("table", ""), document.get("table"))
        row = FigureRow(study_id=copy.id, position=figure.position, document=document)
        session.add(row)
        session.flush()
        figures[figure.id] = row.id
    for plate in study.plates:
        document = dict(plate.document)
        document["cells"] = [_cell(cell, figures) for cell in document.get("cells", [])]
        session.add(PlateRow(study_id=copy.id, position=plate.position, document=document))
    session.flush()
    return copy


def _cell(cell: Any, figures: dict[str, str]) -> Any:
    if not isinstance(cell, dict):
        return cell
    return {**cell, "figure": figures.get(cell.get("figure", ""), cell.get("figure"))}


def _table(session: Session, table: TableRow, copy: StudyRow) -> str:
    """Copy a table as it now is; its columns go from one record to another without being read."""
    made = TableRow(
        study_id=copy.id,
        position=table.position,
        name=table.name,
        version=1,
        next_row=table.next_row,
        options=table.options,
        dataset=table.dataset,
        study=copy,
    )
    session.add(made)
    session.flush()
    version = session.scalars(
        select(VersionRow).where(
            VersionRow.table_id == table.id, VersionRow.number == table.version
        )
    ).one()
    variables = []
    for variable in version.variables:
        column = new_id()
        session.execute(
            insert(ColumnRow).from_select(
                ["id", "table_id", "size", "values", "source"],
                select(
                    literal(column),
                    literal(made.id),
                    ColumnRow.size,
                    ColumnRow.values,
                    ColumnRow.source,
                ).where(ColumnRow.id == variable["column"]),
            )
        )
        variables.append({**variable, "column": column})
    session.add(
        VersionRow(
            table_id=made.id,
            number=1,
            rows=version.rows,
            row_ids=version.row_ids,
            variables=variables,
            summary=version.summary,
            dataset=version.dataset,
        )
    )
    session.flush()
    return made.id
