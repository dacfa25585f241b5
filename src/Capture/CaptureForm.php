<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Ypomna\App\Network\CaptureOptions;
use Ypomna\App\Network\Extent;
use Ypomna\Core\Fetch\Cookie;

/** Reads how somebody wants a page to be captured, as they filled it in. */
final class CaptureForm
{
    /** What is remembered for the next time; cookies and parts never are. */
    private const REMEMBERED = [
        'how', 'phone', 'without_scripts', 'without_scrolling', 'extent', 'wait', 'language', 'agent', 'confidential',
        'dossier',
    ];
    private const LONGEST = 1_000;
    /** Seconds. */
    private const MOST_WAIT = 60;

    /**
     * @param array<string, string> $form
     *
     * @throws InvalidRequest with what is wrong, and what to do
     */
    public static function read(array $form): CaptureOptions
    {
        $text = static fn (string $name): string => mb_strcut(
            trim((string) preg_replace('/[\x00-\x1f\x7f]+/', ' ', mb_scrub($form[$name] ?? ''))), 0, self::LONGEST,
        );
        $extent = Extent::tryFrom($form['extent'] ?? '') ?? Extent::Whole;
        if (Extent::Part === $extent && '' === $text('part')) {
            throw new InvalidRequest('capture.say_which_part');
        }
        if (1 === preg_match('/\D/', $text('wait')) || (int) $text('wait') > self::MOST_WAIT) {
            throw new InvalidRequest('capture.wait_is_a_number', ['most' => self::MOST_WAIT]);
        }
        if ('' !== $text('language')
            && 1 !== preg_match(
                '/^[A-Za-z0-9*-]{1,35}(?:\s*;\s*q=[0-9.]+)?(?:\s*,\s*[A-Za-z0-9*-]{1,35}(?:\s*;\s*q=[0-9.]+)?)*$/D', $text('language'),
            )) {
            throw new InvalidRequest('capture.language_is_written_so');
        }
        $secret = mb_strcut($form['cookies'] ?? '', 0, 262_144);
        try {
            $cookies = Cookie::file($secret);
        } catch (\InvalidArgumentException $e) {
            throw new InvalidRequest('capture.cookies_cannot_be_read', ['reason' => $e->getMessage()]);
        }
        $isTicked = static fn (string $name): bool => '1' === ($form[$name] ?? '');

        return new CaptureOptions(
            // A part is a picture that only a browser takes; of the address alone none is wanted.
            rendered: Extent::Part === $extent || (Extent::Address !== $extent && 'plain' !== ($form['how'] ?? '')),
            scripts: !$isTicked('without_scripts'), phone: $isTicked('phone'),
            scroll: !$isTicked('without_scrolling') && Extent::Part !== $extent,
            language: '' === $text('language') ? null : $text('language'), agent: '' === $text('agent') ? null : $text('agent'),
            fields: self::fields($form['fields'] ?? ''), cookies: $cookies, wait: (float) $text('wait'), extent: $extent,
            part: Extent::Part === $extent ? $text('part') : '', fieldsEverywhere: $isTicked('fields_everywhere'),
        );
    }

    /**
     * Lines as they stand in a request.
     *
     * @return array<string, string>
     *
     * @throws InvalidRequest
     */
    private static function fields(string $lines): array
    {
        $fields = [];
        foreach (explode("\n", str_replace("\r", "\n", mb_strcut($lines, 0, 16_384))) as $n => $line) {
            if ('' === trim($line)) {
                continue;
            }
            if (1 !== preg_match('/^\s*([!#$%&\'*+.^_`|~0-9A-Za-z-]{1,100})\s*:\s*([^\x00-\x1f\x7f]{0,4000})$/D', rtrim($line), $m)) {
                throw new InvalidRequest('capture.line_is_no_field', ['line' => $n + 1]);
            }
            if (\in_array(
                strtolower($m[1]), ['host', 'content-length', 'transfer-encoding', 'connection', 'upgrade', 'te', 'trailer'], true,
            )) {
                throw new InvalidRequest('capture.field_cannot_be_set', ['field' => $m[1]]);
            }
            $fields[$m[1]] = trim($m[2]);
        }

        return $fields;
    }

    /**
     * What of a form is worth remembering for the next time.
     *
     * @param array<string, string> $form
     *
     * @return array<string, string>
     */
    public static function remembered(array $form): array
    {
        return array_filter(
            array_map(
                static fn (string $value): string => mb_strcut(mb_scrub($value), 0, self::LONGEST),
                array_intersect_key($form, array_flip(self::REMEMBERED)),
            ),
            static fn (string $value): bool => '' !== $value,
        );
    }
}
