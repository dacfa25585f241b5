<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\RecordRepository;
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

    public function __construct(private RecordRepository $records, private CaptureContent $content)
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
        $offset = $this->records->answer((int) $capture->warcFile->id, $src);
        if (null === $offset) {
            return null;
        }
        try {
            $answer = $this->content->answer($capture->warcFile->path, $offset);
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
        $sources = \array_slice(
            array_unique(array_map(static fn (Picture $picture): string => $picture->src, $document->pictures)), 0, self::MAX,
        );

        return $this->records->digests((int) $capture->warcFile->id, array_values($sources));
    }
}
