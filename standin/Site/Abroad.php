<?php

declare(strict_types=1);

namespace Ypomna\Standin\Site;

use Ypomna\Standin\Web\Lapses;
use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;
use Ypomna\Standin\Web\Site;

/**
 * Two firms abroad with the same seal: a Greek ferry line, one of whose pages is in windows-1253, and whose certificate expires in 2025;
 * and a Japanese supplier in
 * Shift_JIS, whose server breaks every connection off from 2026 on.
 */
final class Abroad implements Site, Lapses
{
    private const GREEK = 'porthmeia-aliki.test';
    private const LAPSES = '2025-06-01';
    private const JAPANESE = 'kaikyo-seal.test';

    public function hosts(\DateTimeImmutable $now): array
    {
        return [self::GREEK, 'www.'.self::GREEK, self::JAPANESE];
    }

    public function lapsed(\DateTimeImmutable $now): array
    {
        return $now >= new \DateTimeImmutable(self::LAPSES) ? [self::GREEK, 'www.'.self::GREEK] : [];
    }

    public function answer(Request $request): Response
    {
        if (self::JAPANESE === $request->host) {
            return $request->since('2026-01-01') ? Response::html('')->cutAt(0, true) : $this->japanese($request);
        }

        return match (rtrim($request->path, '/')) {
            '' => self::page(
                'Πορθμεία Αλίκη',
                'el',
                '<h1>Πορθμεία Αλίκη</h1><p>Δρομολόγια προς τα νησιά, κάθε μέρα.</p><p><a href="/asfaleia">Ασφάλεια</a> · <a'
                    .' href="/nea.html">Νέα</a></p>',
            ),
            '/asfaleia' => self::page(
                'Ασφάλεια',
                'el',
                '<h1>Ασφάλεια των θυρών</h1><p>Η πρυμναία θύρα του «Αλκυών» έχει στεγανοποιητικό δακτύλιο Corvane 400, τοποθετημένο το'
                    .' 2020.</p>'
                    .($request->since('2024-12-01') ? '<p>Ο δακτύλιος αντικαταστάθηκε στις 2 Δεκεμβρίου 2024, μετά το περιστατικό του'
                        .' Petrel Dawn.</p>' : '<p>Ο δακτύλιος επιθεωρείται κάθε άνοιξη.</p>'),
            ),
            // Two bytes of the head say nothing of the encoding; only the markup does.
            '/nea.html' => new Response(
                200,
                [['Content-Type', 'text/html']],
                (string) mb_convert_encoding(
                    '<html lang="el"><head><meta http-equiv="Content-Type" content="text/html;'
                        .' charset=windows-1253"><title>Νέα</title></head><body><h1>Νέα</h1><p>Ο καπετάνιος Μανώλης Κορρές αποχαιρετά το'
                            .' «Αλκυών» μετά από τριάντα χρόνια.</p></body></html>',
                    'ISO-8859-7',
                    'UTF-8',
                ),
            ),
            default => self::page('Δεν βρέθηκε', 'el', '<h1>Η σελίδα δεν βρέθηκε</h1>', 404),
        };
    }

    private function japanese(Request $request): Response
    {
        $html = match (rtrim($request->path, '/')) {
            '' => '<html lang="ja"><head><meta'
                .' charset="Shift_JIS"><title>海峡シール</title></head><body><h1>海峡シール株式会社</h1><p>船尾扉用シールリングを製造しています。</p><p><a'
                    .' href="/products/ks400">製品 KS-400</a></p></body></html>',
            '/products/ks400' => '<html lang="ja"><head><meta'
                .' charset="Shift_JIS"><title>KS-400</title></head><body><h1>KS-400</h1><table><tr><th>耐用年数</th><td>'
                .($request->since('2025-02-01') ? '五年' : '三年').'</td></tr><tr><th>開閉回数</th><td>一万二千回</td></tr></table></body></html>',
            default => null,
        };

        return new Response(
            null === $html ? 404 : 200,
            [['Content-Type', 'text/html; charset=Shift_JIS']],
            (string) mb_convert_encoding($html ?? '<title>404</title><p>ページが見つかりません。', 'SJIS', 'UTF-8'),
        );
    }

    private static function page(string $title, string $language, string $main, int $status = 200): Response
    {
        return Response::html(
            "<!DOCTYPE html>\n<html lang=\"{$language}\"><head><meta charset=\"utf-8\"><title>{$title}</title></head><body"
                ." style=\"font:17px/1.6 serif;margin:2em 8%\">{$main}</body></html>",
            $status,
        );
    }
}
