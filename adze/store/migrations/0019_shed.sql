-- What a farm has in its shed: parts and tools by their key in the lists, so many of their unit.
-- depends: 0018_own_prices

CREATE TABLE shed_item (
    farm_id  bigint NOT NULL REFERENCES farm ON DELETE CASCADE,
    part     text NOT NULL,
    quantity double precision NOT NULL,
    note     text NOT NULL DEFAULT '',
    PRIMARY KEY (farm_id, part),
    CONSTRAINT shed_item_part_length CHECK (length(part) BETWEEN 1 AND 80),
    CONSTRAINT shed_item_quantity_range CHECK (quantity > 0 AND quantity <= 1000000),
    CONSTRAINT shed_item_note_length CHECK (length(note) <= 200)
);
