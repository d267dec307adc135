import { Button } from "antd";
import { Component, type ReactNode } from "react";

/** A screen that fails says so and offers a way on, instead of a blank page. */
export class Broken extends Component<{ children: ReactNode }, { error: Error | null }> {
  state = { error: null as Error | null };

  static getDerivedStateFromError(error: Error) {
    return { error };
  }

  render() {
    if (!this.state.error) return this.props.children;
    return (
      <div className="empty" role="alert">
        <h2>This screen failed</h2>
        <p>
          What you did before is saved. Show it again; if it fails again, tell your administrator:{" "}
          {this.state.error.message}
        </p>
        <Button style={{ marginTop: 12 }} onClick={() => this.setState({ error: null })}>
          Show it again
        </Button>
      </div>
    );
  }
}
