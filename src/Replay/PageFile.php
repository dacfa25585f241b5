<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\CommandLine\GivenFile;
use Ypomna\App\Shared\CommandLine\UnreadableFile;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\Value\FileKind;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Http\UnsupportedCoding;
use Ypomna\Core\Mhtml\Archive;
use Ypomna\Core\Mhtml\Entity;
use Ypomna\Core\Mhtml\MhtmlReader;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Picture;
use Ypomna\Core\Warc\HttpRecord;
use Ypomna\Core\Warc\WarcError;

/**
 * A page as it lies in a file: HTML, MHTML, or a WARC file with the address behind `#` and the moment behind a last `@`.
 */
final class PageFile
{
    private const MOST_PICTURES = 500;
    /** Of a picture's file, in bytes; larger ones are not compared by their bytes. */
    private const LARGEST_PICTURE = 268_435_456;

    /**
     * @param \Closure(string): (string|null) $digest of the file of a picture, by its address
     */
    private function __construct(
        public readonly Document $document,
        public readonly ?string $url,
        public readonly ?\DateTimeImmutable $at,
        private readonly \Closure $digest,
    ) {
    }

    /**
     * @throws UnreadableFile
     */
    public static function read(string $name): self
    {
        [$path, $address] = self::parted($name);
        $file = new GivenFile($path);
        try {
            return match (0 === filesize($file->path) ? FileKind::Html : FileKind::of($file->path)) {
                FileKind::Warc => self::fromWarc($file, $address),
                FileKind::Mhtml, FileKind::Mail => self::fromMhtml($file, $address),
                FileKind::Pdf,
                FileKind::Picture => throw new UnreadableFile($file->name.' is no page: HTML, MHTML and WARC files are compared.'),
                FileKind::Html, null => self::fromHtml($file),
            };
        } catch (WarcError $e) {
            throw new UnreadableFile($file->name.': '.$e->getMessage());
        }
    }

    /**
     * Digests of the files of those pictures, as far as they lie in the file.
     *
     * @param list<Picture> $pictures
     *
     * @return array<string, string> hex, by address
     */
    public function digests(array $pictures): array
    {
        $digests = [];
        foreach (\array_slice(
            array_unique(array_map(static fn (Picture $picture): string => $picture->src, $pictures)), 0, self::MOST_PICTURES,
        ) as $src) {
            $digest = ($this->digest)($src);
            if (null !== $digest) {
                $digests[$src] = $digest;
            }
        }

        return $digests;
    }

    /**
     * @return array{string, string|null}
     */
    private static function parted(string $name): array
    {
        $at = is_file($name) ? false : strpos($name, '#');
        // A file may have the sign in its name.
        while (false !== $at && !is_file(substr($name, 0, $at))) {
            $next = strpos($name, '#', $at + 1);
            if (false === $next) {
                $at = strpos($name, '#');
                break;
            }
            $at = $next;
        }

        return false === $at ? [$name, null] : [substr($name, 0, $at), substr($name, $at + 1)];
    }

    private static function fromHtml(GivenFile $file): self
    {
        return new self(
            Document::fromHtml((string) file_get_contents($file->path, false, null, 0, Document::MAX_BYTES)),
            null,
            null,
            static fn (): ?string => null,
        );
    }

    private static function fromMhtml(GivenFile $file, ?string $address): self
    {
        $archive = MhtmlReader::read($file->path);
        $root = null;
        for ($page = 0; $page < $archive->pages && null === $root; ++$page) {
            $one = $archive->rootOf($page);
            $root = null === $address || $one?->location() === $address ? $one : null;
        }
        if (null === $root) {
            throw new UnreadableFile($file->name.(null === $address ? ' holds no page.' : ' holds no page with the address '.$address.'.'));
        }
        $html = '';
        foreach ($archive->body($root) as $piece) {
            $html .= $piece;
            if (\strlen($html) >= Document::MAX_BYTES) {
                break;
            }
        }
        $charset = $root->headers->charset();
        $document = Document::fromHtml($html, $root->headers->mime.(null === $charset ? '' : '; charset='.$charset), $root->location());
        $byName = self::parts($archive, $root->page);

        return new self(
            $document, $root->location(), null, static fn (string $src): ?string => isset($byName[$src]) ? $byName[$src]->sha256 : null,
        );
    }

    /**
     * @return array<string, Entity> parts of a page by what they are called
     */
    private static function parts(Archive $archive, int $page): array
    {
        $parts = [];
        foreach ($archive->partsOf($page) as $part) {
            $location = $part->location();
            $url = null === $location ? null : Url::tryParse($location);
            // As it is written, and as a document that refers to it is read.
            foreach ([
                $location,
                null === $url ? null : (string) $url,
                null === $url ? null : (string) $url->withoutFragment(),
                null === $part->headers->contentId() ? null : 'cid:'.$part->headers->contentId(),
            ] as $name) {
                if (null !== $name) {
                    $parts[$name] ??= $part;
                }
            }
        }

        return $parts;
    }

    private static function fromWarc(GivenFile $file, ?string $address): self
    {
        $moment = null;
        if (null !== $address
            && 1 === preg_match(
                '/^(.*)@(\d{4}-\d\d-\d\d(?:T\d\d:\d\d(?::\d\d(?:\.\d+)?)?(?:Z|[+-]\d\d:?\d\d)?)?|\d{14})$/sD', $address, $m,
            )) {
            $address = $m[1];
            try {
                $moment = 1 === preg_match('/^\d{14}$/D', $m[2])
                    ? \DateTimeImmutable::createFromFormat('!YmdHis', $m[2], new \DateTimeZone('UTC'))
                    : new \DateTimeImmutable($m[2], new \DateTimeZone('UTC'));
            } catch (\Exception) {
                $moment = false;
            }
            if (false === $moment) {
                throw new UnreadableFile($m[2].' is no moment; write it as 2024-11-03T10:00:00Z.');
            }
        }
        $holdings = new FileHoldings();
        $pages = array_column($holdings->add($file->path), 0);
        $capture = self::chosen($file, $holdings, $pages, '' === $address ? null : $address, $moment);
        $document = null === $capture->domOffset
            ? self::answered($holdings->answer($capture->path, $capture->responseOffset), $capture->url)
            : Document::fromHtml(
                self::beginning($holdings->block($capture->path, $capture->domOffset)), 'text/html; charset=utf-8', $capture->url,
            );

        return new self($document, $capture->url, $capture->at, static function (string $src) use ($holdings, $capture): ?string {
            $place = str_starts_with($src, 'data:') ? null : $holdings->find($src, $capture, 'GET', null);
            if (null === $place || 200 !== $place->status) {
                return null;
            }
            try {
                return self::digestOf($holdings->answer($place->path, $place->offset));
            } catch (WarcError) {
                return null;
            }
        });
    }

    /**
     * @param list<ReadCapture> $pages
     */
    private static function chosen(
        GivenFile $file,
        FileHoldings $holdings,
        array $pages,
        ?string $address,
        ?\DateTimeImmutable $moment,
    ): ReadCapture {
        if (null === $address) {
            $addresses = array_unique(array_map(static fn (ReadCapture $page): string => AddressKeys::keyOf($page->url), $pages));
            if (1 !== \count($addresses)) {
                $names = array_values(array_unique(array_map(static fn (ReadCapture $page): string => $page->url, $pages)));
                throw new UnreadableFile(
                    [] === $pages
                        ? $file->name.' holds no page in HTML.'
                        : \sprintf(
                            '%s holds %d pages; name one behind #: %s',
                            $file->name,
                            \count($names),
                            implode(' ', \array_slice($names, 0, 8)),
                        ),
                );
            }
            $address = $pages[0]->url;
        }
        $any = $holdings->nearest(Viewer::system(), $address, $moment ?? new \DateTimeImmutable('2999-01-01'))
            ?? throw new UnreadableFile($file->name.' holds no page with the address '.$address.'.');
        // The page as it was: a redirect or an error beside it is not what is meant, unless there is nothing else.
        $history = $holdings->history($any);
        $exact = array_values(array_filter($history, static fn (ReadCapture $one): bool => $one->url === $address));
        $history = [] === $exact ? $history : $exact;
        $good = array_values(array_filter(
            $history, static fn (ReadCapture $one): bool => null !== $one->domOffset || self::isGood($holdings, $one),
        ));
        $history = [] === $good ? $history : $good;
        if (null === $moment) {
            return $history[\count($history) - 1];
        }
        $distance = static fn (ReadCapture $one): float => abs((float) $one->at->format('U.u') - (float) $moment->format('U.u'));
        usort($history, static fn (ReadCapture $a, ReadCapture $b): int => $distance($a) <=> $distance($b));

        return $history[0];
    }

    private static function isGood(FileHoldings $holdings, ReadCapture $capture): bool
    {
        try {
            return 200 === ($holdings->answer($capture->path, $capture->responseOffset)->head->status ?? 200);
        } catch (WarcError) {
            return false;
        }
    }

    private static function answered(HttpRecord $answer, string $url): Document
    {
        $type = (null === $answer->head ? $answer->record->header->contentType() : $answer->head->fields->get('Content-Type')) ?? '';
        try {
            $bytes = self::beginning(Body::decode($answer->body(), $answer->head?->fields->tokens('Content-Encoding') ?? []));
        } catch (UnsupportedCoding $e) {
            throw new UnreadableFile($url.': '.$e->getMessage());
        }

        return '' === $type || 1 === preg_match('#html|xml#i', $type)
            ? Document::fromHtml($bytes, $type, $url)
            : Document::fromText($bytes);
    }

    private static function digestOf(HttpRecord $answer): ?string
    {
        $hash = hash_init('sha256');
        $bytes = 0;
        foreach ($answer->body() as $piece) {
            hash_update($hash, $piece);
            $bytes += \strlen($piece);
            if ($bytes > self::LARGEST_PICTURE) {
                return null;
            }
        }

        return hash_final($hash);
    }

    /**
     * @param iterable<string> $pieces
     */
    private static function beginning(iterable $pieces): string
    {
        $bytes = '';
        foreach ($pieces as $piece) {
            $bytes .= $piece;
            if (\strlen($bytes) >= Document::MAX_BYTES) {
                break;
            }
        }

        return $bytes;
    }
}
