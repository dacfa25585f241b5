<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/**
 * Makes the tree of a page as browsers do, whatever its markup (HTML Living Standard, section 13.2.6). Names of elements
 * are in lower case in all vocabularies; what is in a template stands in the template.
 *
 * Nodes, depth and attributes are bounded, so time and memory follow the size of the page.
 */
final readonly class TreeBuilder
{
    /** Tags and texts of a page; what comes behind them is not read. */
    private const MOST_TOKENS = 1_500_000;

    private function __construct(private Construction $at)
    {
    }

    /** @param string $html UTF-8 */
    public static function tree(string $html): Tree
    {
        $html = str_replace(["\r\n", "\r"], "\n", str_starts_with($html, "\u{FEFF}") ? substr($html, 3) : $html);

        return (new self(new Construction(new Tokenizer($html))))->build();
    }

    private function build(): Tree
    {
        $isWhole = false;
        for ($tokens = 0; $tokens < self::MOST_TOKENS && !$this->at->planter->isFull(); ++$tokens) {
            $foreign = $this->at->stack->isForeign();
            $this->at->tokenizer->foreign = $foreign;
            $token = $this->at->tokenizer->next();
            if (null === $token) {
                $isWhole = true;
                break;
            }
            if (TokenKind::Text === $token->kind) {
                $token = $this->prepared($token->text);
            } else {
                $this->at->skipNewline = false;
            }
            if (null !== $token) {
                $foreign && ForeignRules::isForeign($this->at, $token)
                    ? ForeignRules::inForeign($this->at, $token)
                    : $this->at->process($token);
            }
        }
        if (Mode::Text === $this->at->mode) {
            $this->at->stack->pop();
            $this->at->mode = $this->at->modeBehindText;
        }
        while (null !== $this->at->stack->lastPlace('template')) {
            $this->at->endTemplate();
        }
        // A page without anything has its three elements all the same.
        if (\in_array($this->at->mode, [Mode::Initial, Mode::BeforeHtml, Mode::BeforeHead, Mode::InHead, Mode::AfterHead], true)) {
            $this->at->process(new Token(TokenKind::Start, 'body'));
        }
        $this->at->planter->flushText();
        $this->at->planter->tree->isCut = !$isWhole;

        return $this->at->planter->tree;
    }

    private function prepared(string $text): ?Token
    {
        if ($this->at->skipNewline) {
            $this->at->skipNewline = false;
            $text = str_starts_with($text, "\n") ? substr($text, 1) : $text;
        }

        return '' === $text ? null : new Token(TokenKind::Text, '', $text);
    }
}
