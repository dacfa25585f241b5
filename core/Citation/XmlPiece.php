<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** A tag, or text between tags, with its place in the source. */
final readonly class XmlPiece
{
    /**
     * @param string $name of the element; '' for text
     * @param bool $closes whether it is an end tag
     * @param bool $isEmpty whether the element ends with its own tag
     * @param string $attributes as they are written
     * @param string $text of a text, references resolved
     */
    public function __construct(
        public string $name,
        public bool $closes,
        public bool $isEmpty,
        public string $attributes,
        public string $text,
        public int $at,
        public int $end,
    ) {
    }

    public function attribute(string $name): ?string
    {
        $place = $this->attributePlace($name);

        return null === $place ? null : XmlScanner::plain($place[2]);
    }

    /** @return array{int, int, string}|null where its value stands in the source, its length, and as it is written */
    public function attributePlace(string $name): ?array
    {
        if (1 !== preg_match(
            '~(?<=\s)'.preg_quote($name, '~').'\s*=\s*(?:"([^"]*)"|\'([^\']*)\')~', $this->attributes, $m, \PREG_OFFSET_CAPTURE,
        )) {
            return null;
        }
        [$value, $at] = isset($m[2]) ? $m[2] : $m[1];

        // The attributes stand behind `<` and the name.
        return [$this->at + 1 + \strlen($this->name) + $at, \strlen($value), $value];
    }
}
