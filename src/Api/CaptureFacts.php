<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Exchange\Arrivals;
use Ypomna\App\Shared\Viewer;

/** What programs are told of a capture. */
final readonly class CaptureFacts
{
    public function __construct(private CaptureLimits $limits, private Arrivals $arrivals, private UrlGeneratorInterface $urls)
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
            'origin' => $this->origin($capture), 'sha256' => $capture->warcFile->sha256,
            'bytes' => $capture->warcFile->bytes, 'gaps' => \is_array($gaps) ? \count($gaps) : 0,
            'links' => [
                'read' => $link('read'), 'warc' => $link('capture_warc'), 'mhtml' => $link('capture_mhtml'), 'raw' => $link('raw'),
                'text' => null === $capture->textOffset ? null : $link('capture_text'),
                'picture' => null === $capture->domOffset ? null : $link('capture_picture', ['tile' => 0]),
            ],
            'etag' => $this->etag($viewer, $capture),
        ];
    }

    /** A file lies in the store under the digest of what was handed in. */
    private function origin(Capture $capture): string
    {
        if (WarcFile::OWN === $capture->warcFile->origin) {
            return 'own';
        }
        $given = 1 === preg_match('~/([0-9a-f]{64})\.~', $capture->warcFile->path, $m) ? $m[1] : '';

        return '' !== $given && $this->arrivals->isOfWitness($given) ? 'witness' : 'imported';
    }

    /** What of it can change is told by this; the evidence cannot. */
    public function etag(Viewer $viewer, Capture $capture): string
    {
        return $capture->code.($this->limits->isConfidential($viewer, $capture) ? '-confidential' : '-open');
    }
}
