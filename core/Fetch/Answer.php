<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Http\Message;
use Ypomna\Core\Http\MessageHead;
use Ypomna\Core\Http\TooLarge;
use Ypomna\Core\Http\UnsupportedCoding;

/** What came back, as it was written down. */
final readonly class Answer
{
    private const STEP = 65_536;

    public MessageHead $head;

    /**
     * @param Url $url where it came from in the end
     *
     * @throws FetchFailed if it is no HTTP
     */
    public function __construct(public Url $url, public Exchange $exchange)
    {
        $this->head = Message::read($this->pieces())->head
            ?? throw new FetchFailed(FailureReason::BadResponse, \sprintf('What %s says is not HTTP.', $url->host));
    }

    /**
     * Where the server sends one on (RFC 9110, section 15.4), without a fragment; null if it does not, or to what is not a web address.
     */
    public function redirect(): ?Url
    {
        $location = \in_array($this->head->status, [301, 302, 303, 307, 308], true) ? $this->head->fields->get('Location') : null;
        $next = null === $location ? null : Url::tryParse($location, $this->url);

        return null !== $next && $next->isWeb() ? $next->withoutFragment() : null;
    }

    /**
     * The body with all codings taken off; with a content-coding that is not known here, as it is.
     *
     * @return iterable<string>
     */
    public function body(): iterable
    {
        $message = Message::read($this->pieces());
        try {
            return Body::decode($message->body(), $this->head->fields->tokens('Content-Encoding'));
        } catch (UnsupportedCoding) {
            return Message::read($this->pieces())->body();
        }
    }

    /**
     * @param int $most bytes
     *
     * @throws FetchFailed if there are more
     */
    public function text(int $most): string
    {
        try {
            return Body::collect($this->body(), $most);
        } catch (TooLarge) {
            throw new FetchFailed(FailureReason::Limit, \sprintf('What %s says is longer than %d bytes.', $this->url->host, $most));
        }
    }

    /**
     * The body as far as that many bytes, in whole pieces; for what is read only in part.
     *
     * @param int $most bytes
     */
    public function beginning(int $most): string
    {
        $bytes = '';
        foreach ($this->body() as $piece) {
            $bytes .= $piece;
            if (\strlen($bytes) >= $most) {
                break;
            }
        }

        return $bytes;
    }

    /**
     * @return \Generator<int, string>
     */
    private function pieces(): \Generator
    {
        $handle = @fopen($this->exchange->responsePath, 'r');
        if (false === $handle) {
            throw new StorageFull(\sprintf('The file “%s” cannot be read.', $this->exchange->responsePath));
        }
        try {
            while ('' !== ($piece = (string) fread($handle, self::STEP))) {
                yield $piece;
            }
        } finally {
            fclose($handle);
        }
    }
}
