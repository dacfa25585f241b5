<?php

declare(strict_types=1);

namespace Ypomna\Core\Completeness;

use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Page\RequisiteKind;

/** What is missing. */
enum GapKind: string
{
    case Image = 'image';
    case Style = 'style';
    case Script = 'script';
    case Font = 'font';
    case Frame = 'frame';
    case Media = 'media';
    /** Fetched by a script. */
    case Data = 'data';
    case Other = 'other';

    /** By what the browser says it is for (Fetch Metadata, section 2.1), else by what the answer is. */
    public static function of(Exchange $exchange): self
    {
        return match ($exchange->destination) {
            'image' => self::Image,
            'style', 'xslt' => self::Style,
            'script', 'worker', 'sharedworker', 'serviceworker', 'audioworklet', 'paintworklet' => self::Script,
            'font' => self::Font,
            'iframe', 'frame', 'document', 'fencedframe' => self::Frame,
            'video', 'audio', 'track' => self::Media,
            'empty', 'json', 'report', 'websocket' => self::Data,
            default => self::ofMime($exchange->mime ?? ''),
        };
    }

    public static function wanted(RequisiteKind $kind): self
    {
        return match ($kind) {
            RequisiteKind::Print => self::Style,
            RequisiteKind::Icon => self::Image,
            default => self::tryFrom($kind->value) ?? self::Other,
        };
    }

    private static function ofMime(string $mime): self
    {
        return match (true) {
            str_starts_with($mime, 'image/') => self::Image,
            'text/css' === $mime => self::Style,
            str_contains($mime, 'script') => self::Script,
            str_starts_with($mime, 'font/'), str_contains($mime, 'font-woff') => self::Font,
            str_starts_with($mime, 'video/'), str_starts_with($mime, 'audio/') => self::Media,
            'text/html' === $mime => self::Frame,
            default => self::Other,
        };
    }
}
