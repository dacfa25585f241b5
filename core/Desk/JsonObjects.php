<?php

declare(strict_types=1);

namespace Ypomna\Core\Desk;

/**
 * The objects of a list in JSON (RFC 8259), one after the other, whatever their number: of the list that is the text, or of the one
 * that the text has under a name.
 */
final class JsonObjects
{
    /** Of one object, in bytes. */
    public const LARGEST = 8_388_608;
    private const DEEPEST = 100;

    /**
     * @param iterable<string> $pieces of the text
     * @param string $name of the list, in letters; a list that is the text is `items`
     * @param bool $isWanted whether there has to be such a list
     *
     * @return \Generator<int, string> each object as it is written, numbered from 0
     *
     * @throws InvalidValue with where it stands
     */
    public static function in(iterable $pieces, string $name = 'items', bool $isWanted = true): \Generator
    {
        $named = '/[{,]\s*"'.$name.'"\s*:\s*$/D';
        $open = $object = $before = '';
        $number = $at = 0;
        // How deep the list lies; 0 as long as it was not found, -1 behind it.
        $list = 0;
        $isText = $isEscaped = $isIn = false;
        foreach ($pieces as $piece) {
            for ($i = 0, $length = \strlen($piece); $i < $length; ++$i) {
                // What tells nothing is passed over in one step.
                $plain = $isEscaped ? 0 : strcspn($piece, $isText ? '"\\' : '"{}[]', $i);
                $text = substr($piece, $i, $plain + 1);
                $object .= $isIn ? $text : '';
                $before = 0 === $list && \strlen($open) < 2 ? substr($before.$text, -200) : '';
                $i += $plain;
                $at += \strlen($text);
                $sign = $piece[$i] ?? '';
                if (\strlen($object) > self::LARGEST || \strlen($open) > self::DEEPEST) {
                    throw new InvalidValue(\sprintf('Number %d is larger or deeper than what is taken.', $number));
                }
                if ('' === $sign) {
                    break;
                }
                if ($isText) {
                    $isText = $isEscaped || '"' !== $sign;
                    $isEscaped = !$isEscaped && '\\' === $sign;
                } elseif ('"' === $sign) {
                    $isText = true;
                } elseif ('{' === $sign || '[' === $sign) {
                    if ('{' === $sign && !$isIn && $list === \strlen($open) && $list > 0) {
                        [$isIn, $object] = [true, '{'];
                    }
                    $isItems = '{' === $open && 1 === preg_match($named, substr($before, 0, -1));
                    $open .= $sign;
                    $list = 0 === $list && '[' === $sign && (('[' === $open && 'items' === $name) || $isItems) ? \strlen($open) : $list;
                } else {
                    if ('' === $open || ('}' === $sign) !== str_ends_with($open, '{')) {
                        throw new InvalidValue(\sprintf('At byte %d a “%s” closes nothing.', $at - 1, $sign));
                    }
                    $open = substr($open, 0, -1);
                    if ($isIn && $list === \strlen($open)) {
                        yield $number++ => $object;
                        [$isIn, $object] = [false, ''];
                    }
                    $list = $list > \strlen($open) ? -1 : $list;
                }
            }
        }
        if ('' !== $open || $isText || (-1 !== $list && ($isWanted || 0 !== $list))) {
            throw new InvalidValue('This is no list of items in JSON, or its end is missing.');
        }
    }
}
