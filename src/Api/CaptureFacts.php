<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Catalogue\PagePictures;
use Ypomna\App\Shared\Viewer;

/** What programs are told of a capture. */
final readonly class CaptureFacts
{
    public function __construct(private CaptureLimits $limits, private PagePictures $pictures, private UrlGeneratorInterface $urls)
    {
    }

    /** @return array<string, mixed> */
    public function of(Viewer $viewer, Capture $capture): array
    {
        $link = fn (string $route, array $more = []): string => $this->urls->generate(
            $route, ['code' => $capture->code] + $more, UrlGeneratorInterface::ABSOLUTE_URL,
        );
        $gaps = $capture->completeness['gaps'] ?? null;

        return [
            'code' => $capture->code, 'url' => $capture->url, 'finalUrl' => $capture->redirectTo ?? $capture->url,
            'capturedAt' => Answers::moment($capture->capturedAt), 'status' => $capture->status, 'title' => $capture->title,
            'verdict' => $capture->verdict, 'confidential' => $this->limits->isConfidential($viewer, $capture),
            'origin' => self::origin($capture), 'sha256' => $capture->warcFile->sha256,
            'bytes' => $capture->warcFile->bytes, 'gaps' => \is_array($gaps) ? \count($gaps) : 0,
            'links' => [
                'read' => $link('read'), 'warc' => $link('capture_warc'), 'mhtml' => $link('capture_mhtml'), 'raw' => $link('raw'),
                'text' => null === $capture->textOffset ? null : $link('capture_text'),
                'picture' => [] === $this->pictures->offsets($capture) ? null : $link('capture_picture', ['tile' => 0]),
            ],
            'etag' => $this->etag($viewer, $capture),
        ];
    }

    private static function origin(Capture $capture): string
    {
        return match (true) {
            WarcFile::OWN === $capture->warcFile->origin => 'own', WarcFile::WITNESS === $capture->how => 'witness', default => 'imported',
        };
    }

    /** What of it can change is told by this; the evidence cannot. */
    public function etag(Viewer $viewer, Capture $capture): string
    {
        return $capture->code.($this->limits->isConfidential($viewer, $capture) ? '-confidential' : '-open');
    }
}
