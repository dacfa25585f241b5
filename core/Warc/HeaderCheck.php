<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/**
 * Says where a record's header departs from the standard: ISO 28500:2009 and 2017, clauses 4 and 5; mandatory fields by
 * clause 5 and, type by type, clause 6.
 *
 * @internal
 */
final class HeaderCheck
{
    private const ALWAYS = ['WARC-Record-ID', 'WARC-Date', 'WARC-Type', 'Content-Length'];
    private const OF_TYPE = [
        'response' => ['WARC-Target-URI'], 'resource' => ['WARC-Target-URI'], 'request' => ['WARC-Target-URI'],
        'conversion' => ['WARC-Target-URI'],
        'revisit' => ['WARC-Target-URI', 'WARC-Profile'],
        'continuation' => ['WARC-Target-URI', 'WARC-Segment-Origin-ID', 'WARC-Segment-Number'],
    ];
    /** The form of nearly every header there is. */
    private const SOUND = '#^[^\r\n]*+\r\n(?:[!\#$%&\'*+.^_`|~0-9A-Za-z-]++:[^\r\n]*+\r\n)*+(?:\r\n)?$#D';
    /** Of these several may stand in one record. */
    private const MAY_REPEAT = ['warc-concurrent-to'];

    /**
     * @param string $bytes the header as it stands, with the version line
     *
     * @return list<WarcFinding>
     */
    public static function of(string $bytes, RecordHeader $header, int $offset): array
    {
        $findings = [];
        if (!\in_array($header->version, ['1.0', '1.1'], true)) {
            $findings[] = WarcFinding::at(
                WarcFindingCode::BadVersion, $offset, \sprintf('The record is of version %s; only 1.0 and 1.1 are known', $header->version),
            );
        }
        $sound = $header->fields->areDistinct() && mb_check_encoding($bytes, 'UTF-8') && 1 === preg_match(self::SOUND, $bytes);
        foreach ($sound ? [] : self::form($bytes) as $flaw) {
            $findings[] = WarcFinding::at(WarcFindingCode::BadHeader, $offset, 'The record’s header '.$flaw);
        }
        foreach ([...self::ALWAYS, ...(self::OF_TYPE[$header->type()] ?? [])] as $name) {
            if ('' === ($header->fields->get($name) ?? '')) {
                $findings[] = WarcFinding::at(
                    WarcFindingCode::MissingField,
                    $offset,
                    \sprintf('The %s record gives no %s', '' === $header->type() ? 'untyped' : mb_scrub($header->type()), $name),
                );
            }
        }
        $length = $header->fields->get('Content-Length') ?? '';
        if ('' !== $length && null === $header->contentLength()) {
            $findings[] = WarcFinding::at(
                WarcFindingCode::BadLength,
                $offset,
                \sprintf('The record’s Content-Length “%s” is not a number of bytes', mb_strimwidth(mb_scrub($length), 0, 30, '…')),
            );
        }
        $date = $header->date() ?? '';
        if ('' !== $date && !self::isDate($date, $header->version)) {
            $findings[] = WarcFinding::at(
                WarcFindingCode::BadDate,
                $offset,
                \sprintf('“%s” is not a date of WARC %s', mb_strimwidth(mb_scrub($date), 0, 40, '…'), $header->version),
            );
        }

        return $findings;
    }

    /**
     * @return list<string> what is wrong with the lines, each kind once
     */
    private static function form(string $bytes): array
    {
        $flaws = $seen = [];
        if (1 === preg_match('/(?<!\r)\n/', $bytes)) {
            $flaws[] = 'has lines that end in LF alone';
        }
        if (!mb_check_encoding($bytes, 'UTF-8')) {
            $flaws[] = 'is not in UTF-8';
        }
        $lines = explode("\n", rtrim($bytes, "\r\n"));
        array_shift($lines);
        foreach ($lines as $number => $line) {
            $line = rtrim($line, "\r");
            if ('' === $line || (' ' !== $line[0] && "\t" !== $line[0] && 1 !== preg_match('/^[!#$%&\'*+.^_`|~0-9A-Za-z-]+:/', $line))
                || (0 === $number && 1 === preg_match('/^[ \t]/', $line))) {
                $flaws['line'] = \sprintf('has a line that is not a field: “%s”', mb_strimwidth(mb_scrub($line), 0, 60, '…'));
                continue;
            }
            if (' ' !== $line[0] && "\t" !== $line[0]) {
                $name = strtolower(explode(':', $line, 2)[0]);
                if (isset($seen[$name]) && !\in_array($name, self::MAY_REPEAT, true)) {
                    $flaws['again'] = \sprintf('gives %s more than once', mb_strimwidth($name, 0, 60, '…'));
                }
                $seen[$name] = true;
            }
        }

        return array_values($flaws);
    }

    /** 1.0: seconds exactly; 1.1: any precision of W3CDTF from the year on, up to nine digits of a second. */
    private static function isDate(string $date, string $version): bool
    {
        $pattern = '1.0' === $version
            ? '/^(\d{4})-(\d\d)-(\d\d)T(\d\d):(\d\d):(\d\d)Z$/D'
            : '/^(\d{4})(?:-(\d\d)(?:-(\d\d)(?:T(\d\d):(\d\d)(?::(\d\d)(?:\.\d{1,9})?)?Z)?)?)?$/D';
        if (1 !== preg_match($pattern, $date, $m)) {
            return false;
        }
        [, $year, $month, $day, $hour, $minute, $second] = array_map(\intval(...), $m + [0, 0, 1, 1, 0, 0, 0]);

        return checkdate($month, $day, max(1, $year)) && $hour < 24 && $minute < 60 && $second < 61;
    }
}
