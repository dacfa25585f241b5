<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

use Symfony\Component\HttpFoundation\HeaderUtils;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\StreamedResponse;

/** Files that are given to a reader as they are made. */
final class Download
{
    private const PIECE = 65_536;

    /** @param iterable<string> $pieces */
    public static function streamed(iterable $pieces, string $type, string $name): Response
    {
        return new StreamedResponse(static function () use ($pieces): void {
            foreach ($pieces as $piece) {
                echo $piece;
            }
        }, Response::HTTP_OK, ['Content-Type' => $type, 'Content-Disposition' => self::attachment($name)]);
    }

    /** The value of Content-Disposition (RFC 6266) for a name that may be anybody's. */
    public static function attachment(string $name): string
    {
        $name = trim((string) preg_replace('/[\/\\\\\x00-\x1F\x7F]+/u', '-', mb_scrub($name)), '. ');
        $name = '' === $name ? 'document' : $name;

        return HeaderUtils::makeDisposition(
            HeaderUtils::DISPOSITION_ATTACHMENT, $name, (string) preg_replace('/[^\x20-\x24\x26-\x7E]+/', '_', $name),
        );
    }

    /**
     * @param resource|false $file
     *
     * @return \Generator<int, string>
     */
    public static function pieces($file): \Generator
    {
        while (false !== $file && !feof($file)) {
            yield (string) fread($file, self::PIECE);
        }
    }
}
