<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Row;
use Ypomna\Core\Compare\PictureHash;
use Ypomna\Core\Compare\PictureRelation;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Http\TooLarge;
use Ypomna\Core\Http\UnsupportedCoding;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Picture;
use Ypomna\Core\Warc\WarcError;

/** Digests of the picture files that were kept with a capture, so that other bytes at the same address are noticed. */
final readonly class PictureDigests
{
    private const MAX = 500;
    private const LARGEST = 33_554_432;

    public function __construct(private Connection $database, private CaptureContent $content)
    {
    }

    /**
     * What a picture is to the one that it replaced.
     *
     * @return PictureRelation|null null where one of them cannot be read as a picture here
     */
    public function relation(Capture $old, string $before, Capture $new, string $after): ?PictureRelation
    {
        $hashes = [];
        foreach ([[$old, $before], [$new, $after]] as [$capture, $src]) {
            $bytes = $this->bytes($capture, $src);
            $hashes[] = null === $bytes ? null : PictureHash::of($bytes);
        }

        return null === $hashes[0] || null === $hashes[1] ? null : $hashes[0]->relation($hashes[1]);
    }

    private function bytes(Capture $capture, string $src): ?string
    {
        $offset = $this->database->fetchOne("SELECT at_offset FROM record WHERE warc_file_id = ? AND role = 'answer' AND status = 200 AND url_hash = ? LIMIT 1", [$capture->warcFile->id, hex2bin(AddressKeys::urlHash($src))]);
        if (!is_numeric($offset)) {
            return null;
        }
        try {
            $answer = $this->content->answer($capture->warcFile->path, (int) $offset);
            $bytes = '';
            foreach (Body::decode($answer->body(), $answer->head?->fields->tokens('Content-Encoding') ?? []) as $piece) {
                $bytes .= $piece;
                if (\strlen($bytes) > self::LARGEST) {
                    return null;
                }
            }

            return $bytes;
        } catch (WarcError|UnsupportedCoding|TooLarge) {
            return null;
        }
    }

    /**
     * @return array<string, string> hex, by address
     */
    public function of(Capture $capture, Document $document): array
    {
        $sources = \array_slice(array_unique(array_map(static fn (Picture $picture): string => $picture->src, $document->pictures)), 0, self::MAX);
        if ([] === $sources) {
            return [];
        }
        $hashes = array_map(static fn (string $src): string => (string) hex2bin(AddressKeys::urlHash($src)), $sources);
        $rows = $this->database->fetchAllAssociative(
            "SELECT url, LOWER(HEX(payload_sha256)) AS digest FROM record WHERE warc_file_id = ? AND role = 'answer' AND status = 200 AND url_hash IN (?)",
            [$capture->warcFile->id, $hashes],
            [1 => ArrayParameterType::STRING],
        );
        $digests = [];
        foreach ($rows as $values) {
            $row = new Row($values);
            $digests[$row->text('url')] = $row->textOrNull('digest') ?? '';
        }

        return array_filter($digests, static fn (string $digest): bool => '' !== $digest);
    }
}
